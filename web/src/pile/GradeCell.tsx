import { type ChangeId, formatPoints, type MarkingChange, type PileRow, parsePoints } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { newId } from '../keep/useSheetKeeper.ts';

/** A change to the slip of a copy that is not open: the same value that the desk would send, on what the pile knows of it. */
function useSlipChange(row: PileRow, assignmentId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (changes: readonly MarkingChange[]) => {
      const answer = await call('sendChanges', {
        params: { handInId: row.handInId! },
        body: { changes: [...changes] },
      });
      const bad = answer.results.find((r) => r.outcome === 'conflict' || r.outcome === 'refused');
      if (bad?.outcome === 'conflict')
        toast.error('This copy was changed at the desk meanwhile. Here is the newest.');
    },
    onError: (error) => void toast.error(sentenceOf(error)),
    onSettled: () => {
      client.invalidateQueries({ queryKey: ['pile', assignmentId] });
      client.removeQueries({ queryKey: ['desk', row.copyId] });
    },
  });
}

const changeable = (row: PileRow) => row.handInId !== null && row.place !== 'handed-back';

/** The grade, typed straight into the line. An impossible one is told and the last good one stays. */
export function GradeCell({
  row,
  assignmentId,
  most,
}: {
  row: PileRow;
  assignmentId: string;
  most: number | null;
}) {
  const change = useSlipChange(row, assignmentId);
  const shown = row.grade === null ? '' : formatPoints(row.grade);
  const [typed, setTyped] = useState<string | null>(null);
  const name = `${row.student.given} ${row.student.family}`;
  if (most === null || !changeable(row)) return <span className="font-semibold tabular">{shown}</span>;
  const keep = () => {
    if (typed === null) return;
    setTyped(null);
    const read = parsePoints(typed, most);
    if (!read.ok && read.reason !== 'empty') {
      toast.error(
        `“${typed}” cannot be a grade out of ${formatPoints(most)}. ${shown ? `${shown} stays.` : 'Nothing was changed.'}`,
      );
      return;
    }
    const value = read.ok ? read.value : null;
    if (value === row.grade) return;
    change.mutate([
      { id: newId<ChangeId>(), base: row.gradeVersion, type: 'write', field: 'grade', value, was: row.grade },
    ]);
  };
  return (
    <input
      aria-label={`Grade of ${name}`}
      inputMode="decimal"
      className="h-[19px] w-14 rounded border border-transparent bg-transparent px-1 text-right font-semibold tabular hover:border-line focus:border-action focus:bg-paper"
      value={typed ?? shown}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Escape') setTyped(null);
        if (e.key !== 'Enter') return;
        keep();
        const all = [...document.querySelectorAll<HTMLInputElement>('input[aria-label^="Grade of "]')];
        all[all.indexOf(e.currentTarget) + 1]?.focus();
      }}
    />
  );
}

/** Marked, or not yet, by one click. */
export function DoneCell({
  row,
  assignmentId,
  children,
}: {
  row: PileRow;
  assignmentId: string;
  children: React.ReactNode;
}) {
  const change = useSlipChange(row, assignmentId);
  if (!changeable(row)) return <>{children}</>;
  const done = row.place === 'marked';
  return (
    <button
      type="button"
      className="rounded px-1 text-left hover:bg-action-wash hover:text-action"
      title={done ? 'Not marked yet' : 'Call it marked'}
      onClick={() =>
        change.mutate([
          {
            id: newId<ChangeId>(),
            base: row.doneVersion,
            type: 'write',
            field: 'done',
            value: !done,
            was: done,
          },
        ])
      }
    >
      {children}
    </button>
  );
}

import { type ChangeId, formatPoints, type MarkingChange, type PileRow, parsePoints } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { newId } from '../outbox/useSheetKeeper.ts';

export type WriteSlip = (row: PileRow, changes: readonly MarkingChange[]) => void;

/** Changes the slip of a copy that is not open: with the same value that the desk would send, on what the pile knows of it. */
export function useWriteSlip(assignmentId: string): WriteSlip {
  const client = useQueryClient();
  return useCallback(
    async (row, changes) => {
      try {
        const answer = await call('sendChanges', {
          params: { handInId: row.handInId! },
          body: { changes: [...changes] },
        });
        if (answer.results.some((r) => r.outcome === 'conflict'))
          toast.error('This copy was changed at the desk meanwhile. Here is the newest.');
      } catch (error) {
        toast.error(sentenceOf(error));
      } finally {
        client.invalidateQueries({ queryKey: ['pile', assignmentId] });
        client.removeQueries({ queryKey: ['desk', row.copyId] });
      }
    },
    [client, assignmentId],
  );
}

const changeable = (row: PileRow) => row.handInId !== null && row.place !== 'handed-back';

/** The grade, typed straight into the line. An impossible one is told and the last good one stays. */
export function GradeCell({ row, most, write }: { row: PileRow; most: number | null; write: WriteSlip }) {
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
    write(row, [
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
  write,
  children,
}: {
  row: PileRow;
  write: WriteSlip;
  children: React.ReactNode;
}) {
  if (!changeable(row)) return <>{children}</>;
  const done = row.place === 'marked';
  return (
    <button
      type="button"
      className="rounded px-1 text-left hover:bg-action-wash hover:text-action"
      title={done ? 'Not marked yet' : 'Call it marked'}
      onClick={() =>
        write(row, [
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

import { formatPoints, type PileRow, parsePoints, type SlipValue } from '@jotmark/core';
import { useState } from 'react';
import { toast } from 'sonner';
import { tip } from '../frame/tip.ts';
import { outbox } from '../outbox/outbox.ts';

/** Writes on the slip of a copy that is not open, as the desk would: kept on this device until the server has it. */
export function writeSlip<F extends 'grade' | 'done'>(row: PileRow, field: F, value: SlipValue<F>): void {
  const now = { grade: row.grade, done: row.place === 'marked' };
  const base = { grade: row.gradeVersion, done: row.doneVersion };
  outbox.writeSlip({
    handInId: row.handInId!,
    field,
    value,
    was: now[field] as SlipValue<F>,
    base: base[field],
  });
}

const changeable = (row: PileRow) => row.handInId !== null && row.place !== 'handed-back';

/** The grade, typed straight into the line. An impossible one is told and the last good one stays. */
export function GradeCell({ row, most }: { row: PileRow; most: number | null }) {
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
    writeSlip(row, 'grade', value);
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
        // Leaving the cell keeps what was typed: once.
        const all = [...document.querySelectorAll<HTMLInputElement>('input[aria-label^="Grade of "]')];
        const next = all[all.indexOf(e.currentTarget) + 1];
        if (next) next.focus();
        else e.currentTarget.blur();
      }}
    />
  );
}

/** Marked, or not yet, by one click. */
export function DoneCell({ row, children }: { row: PileRow; children: string }) {
  if (!changeable(row)) return <>{children}</>;
  const done = row.place === 'marked';
  const does = done ? 'Not marked yet' : 'Call it marked';
  return (
    <button
      type="button"
      className="rounded px-1 text-left hover:bg-action-wash hover:text-action"
      aria-description={does}
      {...tip(does)}
      onClick={() => writeSlip(row, 'done', !done)}
    >
      {children}
    </button>
  );
}

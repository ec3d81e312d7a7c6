import { formatGrade, type PileRow, type Scale, type SlipValue } from '@jotmark/core';
import { useRef } from 'react';
import { tip } from '../frame/tip.ts';
import { sheetOfRow } from '../outbox/alone.ts';
import { outbox } from '../outbox/outbox.ts';
import { GradeField } from '../scores/GradeField.tsx';

/** Writes on the slip of a copy that is not open, as the desk would: kept on this device until the server has it. */
export function writeSlip<F extends 'grade' | 'done'>(row: PileRow, field: F, value: SlipValue<F>): void {
  const now = { grade: row.typed, done: row.place === 'marked' };
  const base = { grade: row.gradeVersion, done: row.doneVersion };
  outbox.writeSlip({
    sheetId: sheetOfRow(row),
    field,
    value,
    was: now[field] as SlipValue<F>,
    base: base[field],
  });
}

const changeable = (row: PileRow) => row.place !== 'handed-back';

/** The grade, typed straight into the line, also where nothing came in. Enter goes on to the next line. */
export function GradeCell({ row, most, scale }: { row: PileRow; most: number | null; scale: Scale }) {
  const input = useRef<HTMLInputElement>(null);
  if (most === null) return null;
  if (!changeable(row))
    return (
      <span className="font-semibold tabular">
        {row.grade === null ? '' : formatGrade(row.grade, most, scale)}
      </span>
    );
  const over = row.typed !== null && row.computed !== null && row.typed !== row.computed;
  return (
    <span
      {...tip(over ? `Typed; computed it would be ${formatGrade(row.computed!, most, scale)}.` : undefined)}
    >
      <GradeField
        label={`Grade of ${row.student.given} ${row.student.family}`}
        sheetId={sheetOfRow(row)}
        className={`h-[19px] w-14 rounded border border-transparent bg-transparent px-1 text-right font-semibold tabular hover:border-line focus:border-action focus:bg-paper ${over ? 'text-caution' : ''}`}
        value={row.grade}
        most={most}
        scale={scale}
        inputRef={input}
        onValue={(value) => writeSlip(row, 'grade', value)}
        onEnter={() => {
          const all = [...document.querySelectorAll<HTMLInputElement>('input[aria-label^="Grade of "]')];
          const next = input.current && all[all.indexOf(input.current) + 1];
          if (next) next.focus();
          else input.current?.blur();
        }}
      />
    </span>
  );
}

/** Marked, or not yet, by one click. */
export function DoneCell({ row, children }: { row: PileRow; children: string }) {
  // What nothing came in for is called marked where it is scored.
  if (!changeable(row) || row.handInId === null) return <span className="px-1">{children}</span>;
  const done = row.place === 'marked';
  const does = done ? 'Reopen marking' : 'Set as marked';
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

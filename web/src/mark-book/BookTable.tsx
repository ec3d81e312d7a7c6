import {
  type BookCell,
  type BookColumn,
  type BookRule,
  bookTotal,
  formatGrade,
  formatPoints,
  type MarkBook,
  type PersonId,
} from '@jotmark/core';
import type { KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { tip } from '../frame/tip.ts';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { aloneSheet } from '../outbox/alone.ts';
import { GradeField } from '../scores/GradeField.tsx';
import { SpreadSign } from './SpreadSign.tsx';
import { isOpen, type OpenCell } from './useBookWrites.ts';

export type Student = MarkBook['students'][number];

interface Props {
  readonly students: readonly Student[];
  readonly columns: readonly BookColumn[];
  /** What the total is made of: also what is hidden. */
  readonly counted: readonly BookColumn[];
  /** Where the feedback log of a student is. */
  logAt(person: PersonId): string;
  readonly rule: BookRule;
  cellOf(person: PersonId, column: BookColumn): BookCell | undefined;
  onGrade(cell: OpenCell, value: number | null): void;
  onPaste(row: number, column: number, text: string): void;
}

/** Students by assignments: what is entered, or where a copy is; at the end what it comes to. One moves in it as in a spreadsheet. */
export function BookTable(p: Props) {
  const { students, columns, rule } = p;
  return (
    <table
      className="border-separate border-spacing-0 text-[15px] tabular"
      onKeyDown={move}
      onPaste={(e) => {
        const at = placeOf(e.target as HTMLElement);
        const text = e.clipboardData.getData('text');
        if (!at || !/[\n\t]/.test(text.trimEnd())) return;
        e.preventDefault();
        p.onPaste(at.row, at.column, text);
      }}
    >
      <thead>
        <tr>
          <th
            scope="col"
            className="sticky top-0 left-0 z-20 min-w-52 border-b border-line-strong bg-raised px-3 pb-1 text-left align-bottom text-sm font-normal text-soft"
          >
            Student
          </th>
          {columns.map((c) => (
            <th
              key={c.id}
              scope="col"
              className="sticky top-0 z-10 max-w-40 min-w-28 border-b border-line-strong bg-raised px-2 pt-2 pb-1 text-right align-bottom text-sm leading-tight"
            >
              <Link to={`/piles/${c.id}`} className="hover:text-action hover:underline">
                {c.title}
              </Link>
              <span className="block font-normal text-soft">
                {c.category || 'other work'} · {c.most === null ? 'no grade' : formatPoints(c.most)}
              </span>
            </th>
          ))}
          <th
            scope="col"
            className="sticky top-0 right-0 z-20 min-w-32 border-b border-line-strong bg-raised px-3 pb-1 text-right align-bottom text-sm"
          >
            So far, %
          </th>
        </tr>
      </thead>
      <tbody>
        {students.map((s, row) => (
          <tr key={s.id}>
            <th
              scope="row"
              className="sticky left-0 z-10 border-b border-line bg-raised px-3 py-0.5 text-left font-medium whitespace-nowrap"
            >
              <Link to={p.logAt(s.id)} className="hover:text-action hover:underline">
                {s.family ? `${s.family}, ${s.given}` : s.given}
              </Link>
            </th>
            {columns.map((c, column) => (
              <td key={c.id} data-at={`${row}/${column}`} className="border-b border-line px-2 text-right">
                <Cell cell={p.cellOf(s.id, c)} column={c} student={s} onGrade={p.onGrade} />
              </td>
            ))}
            <td className="sticky right-0 border-b border-line bg-raised px-3 text-right">
              <Total entries={p.counted.flatMap((c) => entryOf(p.cellOf(s.id, c), c))} rule={rule} />
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <th
            scope="row"
            className="sticky bottom-0 left-0 z-10 bg-raised px-3 py-1.5 text-left text-sm font-normal text-soft"
          >
            Middle of the class, and its spread
          </th>
          {columns.map((c) => (
            <td key={c.id} className="sticky bottom-0 bg-raised px-2 text-right">
              {c.most !== null && c.most > 0 && (
                <SpreadSign
                  grades={students.flatMap((s) => p.cellOf(s.id, c)?.grade ?? [])}
                  most={c.most}
                  scale={c.scale}
                />
              )}
            </td>
          ))}
          <td className="sticky right-0 bottom-0 bg-raised" />
        </tr>
      </tfoot>
    </table>
  );
}

const entryOf = (cell: BookCell | undefined, c: BookColumn) =>
  cell
    ? [
        {
          category: c.category,
          most: c.most,
          grade: cell.grade,
          excused: cell.excused,
          missing: cell.missing,
        },
      ]
    : [];

function Total({ entries, rule }: { entries: Parameters<typeof bookTotal>[0]; rule: BookRule }) {
  const { percent, parts, zeros } = bookTotal(entries, rule);
  if (percent === null) return null;
  const words = [
    ...parts.map((t) => `${t.category || 'other work'}: ${formatPoints(t.percent)} %, counts ${t.weight}`),
    ...(zeros ? [`${zeros} missing, counted 0`] : []),
  ].join('; ');
  return (
    <span className="inline-flex items-center gap-2" {...tip(words)}>
      <span aria-hidden="true" className="h-2 w-14 bg-margin">
        <span className="block h-2 bg-action" style={{ width: `${Math.min(100, percent / 100)}%` }} />
      </span>
      {Math.round(percent / 100)}
    </span>
  );
}

function Cell({
  cell,
  column,
  student,
  onGrade,
}: {
  cell: BookCell | undefined;
  column: BookColumn;
  student: Student;
  onGrade(cell: OpenCell, value: number | null): void;
}) {
  if (!cell) return null;
  if (cell.excused && cell.grade === null) return <span className="text-sm text-soft">excused</span>;
  const name = `${student.given} ${student.family}`.trim();
  const says = `${name}, ${column.title}: ${PLACE_WORDS[cell.place]}${cell.missing ? ', missing' : ''}`;
  if (column.most === null || !isOpen(cell)) {
    const inside =
      cell.grade !== null && column.most !== null ? (
        <span className={cell.held ? 'text-soft italic' : 'font-bold'}>
          {formatGrade(cell.grade, column.most, column.scale)}
        </span>
      ) : (
        <Glyph cell={cell} />
      );
    return cell.copyId ? (
      <Link
        to={addressOf(cell)}
        aria-label={says}
        {...tip(says)}
        className="inline-block min-w-8 rounded px-1 hover:bg-action-wash"
      >
        {inside}
      </Link>
    ) : (
      <span {...tip('Marked blind: its grade is told when it goes back.')}>{inside}</span>
    );
  }
  return (
    <span className="inline-flex items-center gap-1">
      {cell.grade === null && (
        <Link to={addressOf(cell)} aria-label={says} {...tip(says)} tabIndex={-1}>
          <Glyph cell={cell} />
        </Link>
      )}
      <GradeField
        label={`Grade of ${name}, ${column.title}`}
        sheetId={cell.handInId ?? aloneSheet(cell.copyId)}
        className="h-7 w-14 rounded border border-transparent bg-transparent px-1 text-right text-soft italic tabular hover:border-line focus:border-action focus:bg-paper focus:text-text focus:not-italic"
        value={cell.grade}
        most={column.most}
        scale={column.scale}
        onValue={(value) => onGrade(cell, value)}
        onEnter={() => focusAt(document.activeElement as HTMLElement, 1, 0)}
      />
    </span>
  );
}

const addressOf = (cell: BookCell) => (cell.handInId ? `/desk/${cell.copyId}` : `/score/${cell.copyId}`);

function Glyph({ cell }: { cell: BookCell }) {
  return (
    <span className={cell.missing ? 'text-caution' : 'text-soft'}>
      <PlaceGlyph place={cell.place} size={15} />
    </span>
  );
}

function placeOf(element: HTMLElement): { row: number; column: number } | null {
  const at = element.closest<HTMLElement>('[data-at]')?.dataset.at?.split('/').map(Number);
  return at ? { row: at[0]!, column: at[1]! } : null;
}

/** The cell so far down and to the right gets the keyboard; cells in which nothing can be done are passed over. */
function focusAt(from: HTMLElement | null, down: number, right: number): boolean {
  const table = from?.closest('table');
  const at = from && placeOf(from);
  if (!table || !at) return false;
  for (let n = 1; n < 500; n++) {
    const cell = table.querySelector(`[data-at="${at.row + n * down}/${at.column + n * right}"]`);
    if (!cell) return false;
    const target = cell.querySelector<HTMLElement>('input') ?? cell.querySelector<HTMLElement>('a');
    if (!target) continue;
    target.focus();
    return true;
  }
  return false;
}

const ARROWS: Readonly<Record<string, readonly [down: number, right: number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

function move(e: KeyboardEvent): void {
  const way = ARROWS[e.key];
  if (!way || e.ctrlKey || e.metaKey || e.altKey) return;
  const field = e.target as HTMLInputElement;
  // Within a number that is being typed left and right belong to its letters.
  if (way[1] !== 0 && field instanceof HTMLInputElement) {
    const whole = field.selectionStart === 0 && field.selectionEnd === field.value.length;
    const edge = way[1] < 0 ? field.selectionEnd === 0 : field.selectionStart === field.value.length;
    if (!whole && !edge) return;
  }
  if (focusAt(field, ...way)) e.preventDefault();
}

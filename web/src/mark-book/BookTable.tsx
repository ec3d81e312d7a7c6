import type { BookCell, BookColumn, BookRule, PersonId } from '@jotmark/core';
import { formatPoints } from '@jotmark/core';
import type { KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { tip } from '../frame/tip.ts';
import { BookTotal, entryOf } from './BookTotal.tsx';
import { CellField, isStop, type Student } from './CellField.tsx';
import { SpreadSign } from './SpreadSign.tsx';
import type { OpenCell } from './useBookWrites.ts';

/** In CSS pixels. */
const ROW = 33;
const COLUMN = 128;
const NAMES = 220;
const TOTALS = 132;

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

interface At {
  readonly row: number;
  readonly column: number;
}

/** Students by assignments: what is entered, or where a copy is; at the end what it comes to. One moves in it as in a spreadsheet. */
export function BookTable(p: Props) {
  const { students, columns, rule } = p;
  const stopAt = ({ row, column }: At) => isStop(p.cellOf(students[row]!.id, columns[column]!));
  /** The next cell that way in which anything can be done gets the keyboard; false: there is none. */
  const go = (from: HTMLElement, [dy, dx]: Way): boolean => {
    let at = placeOf(from);
    do at = at && { row: at.row + dy, column: at.column + dx };
    while (at && students[at.row] && columns[at.column] && !stopAt(at));
    if (!at || !students[at.row] || !columns[at.column]) return false;
    return focusCell(from.closest('table'), at);
  };
  const move = (e: KeyboardEvent) => {
    const way = ARROWS[e.key];
    if (!way || e.ctrlKey || e.metaKey || e.altKey || !leavesField(e.target as HTMLElement, way)) return;
    if (go(e.target as HTMLElement, way)) e.preventDefault();
  };
  return (
    <table
      className="table-fixed border-separate border-spacing-0 text-[15px] tabular"
      style={{ width: NAMES + columns.length * COLUMN + TOTALS }}
      onKeyDown={move}
      onPaste={(e) => {
        const at = placeOf(e.target as HTMLElement);
        const text = e.clipboardData.getData('text');
        if (!at || !/[\n\t]/.test(text.trimEnd())) return;
        e.preventDefault();
        p.onPaste(at.row, at.column, text);
      }}
    >
      <colgroup>
        <col style={{ width: NAMES }} />
        {columns.map((c) => (
          <col key={c.id} style={{ width: COLUMN }} />
        ))}
        <col style={{ width: TOTALS }} />
      </colgroup>
      <BookHead columns={columns} />
      <tbody>
        {students.map((s, row) => (
          <tr key={s.id} style={{ height: ROW }}>
            <th
              scope="row"
              className="sticky left-0 z-10 truncate border-b border-line bg-raised px-3 text-left font-medium"
            >
              <Link to={p.logAt(s.id)} className="hover:text-action hover:underline">
                {s.family ? `${s.family}, ${s.given}` : s.given}
              </Link>
            </th>
            {columns.map((c, column) => (
              <td key={c.id} data-at={`${row}/${column}`} className="border-b border-line px-2 text-right">
                <CellField
                  cell={p.cellOf(s.id, c)}
                  column={c}
                  student={s}
                  onGrade={p.onGrade}
                  onEnter={() => go(document.activeElement as HTMLElement, ARROWS.ArrowDown!)}
                />
              </td>
            ))}
            <td className="sticky right-0 border-b border-line bg-raised px-3 text-right">
              <BookTotal entries={p.counted.flatMap((c) => entryOf(p.cellOf(s.id, c), c))} rule={rule} />
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

function BookHead({ columns }: { readonly columns: readonly BookColumn[] }) {
  return (
    <thead>
      <tr>
        <th
          scope="col"
          className="sticky top-0 left-0 z-20 border-b border-line-strong bg-raised px-3 pb-1 text-left align-bottom text-sm font-normal text-soft"
        >
          Student
        </th>
        {columns.map((c) => (
          <th
            key={c.id}
            scope="col"
            className="sticky top-0 z-10 border-b border-line-strong bg-raised px-2 pt-2 pb-1 text-right align-bottom text-sm leading-tight"
          >
            <Link
              to={`/piles/${c.id}`}
              className="line-clamp-3 hover:text-action hover:underline"
              {...tip(c.title)}
            >
              {c.title}
            </Link>
            <span className="block truncate font-normal text-soft">
              {c.category || 'other work'} · {c.most === null ? 'no grade' : formatPoints(c.most)}
            </span>
          </th>
        ))}
        <th
          scope="col"
          className="sticky top-0 right-0 z-20 border-b border-line-strong bg-raised px-3 pb-1 text-right align-bottom text-sm"
        >
          So far, %
        </th>
      </tr>
    </thead>
  );
}

function placeOf(element: HTMLElement): At | null {
  const at = element.closest<HTMLElement>('[data-at]')?.dataset.at?.split('/').map(Number);
  return at ? { row: at[0]!, column: at[1]! } : null;
}

function focusCell(table: HTMLElement | null, { row, column }: At): boolean {
  const cell = table?.querySelector(`[data-at="${row}/${column}"]`);
  const target =
    cell?.querySelector<HTMLElement>('input, [role="textbox"]') ?? cell?.querySelector<HTMLElement>('a');
  target?.focus();
  return !!target;
}

type Way = readonly [down: number, right: number];
const ARROWS: Readonly<Record<string, Way>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** Within a number that is being typed left and right belong to its letters. */
function leavesField(field: HTMLElement, [, right]: Way): boolean {
  if (right === 0 || !(field instanceof HTMLInputElement)) return true;
  const whole = field.selectionStart === 0 && field.selectionEnd === field.value.length;
  return whole || (right < 0 ? field.selectionEnd === 0 : field.selectionStart === field.value.length);
}

import { type BookCell, type BookColumn, formatGrade, type MarkBook } from '@jotmark/core';
import { useLayoutEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useHere } from '../frame/session.tsx';
import { tip } from '../frame/tip.ts';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { hasKept } from '../outbox/kept-text.ts';
import { GradeField, placeOfGrade } from '../scores/GradeField.tsx';
import { isOpen, type OpenCell, sheetOf } from './useBookWrites.ts';

export type Student = MarkBook['students'][number];

/** Whether anything can be done in a cell, so that the keyboard stops there. */
export const isStop = (cell: BookCell | undefined): boolean =>
  !!cell && cell.copyId !== null && !(cell.excused && cell.grade === null);

/** One piece of work of one student: its grade, to be typed while it is held, or where the copy is. */
export function CellField({
  cell,
  column,
  student,
  onGrade,
  onEnter,
}: {
  cell: BookCell | undefined;
  column: BookColumn;
  student: Student;
  onGrade(cell: OpenCell, value: number | null): void;
  onEnter(): void;
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
        <Where cell={cell} />
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
    <HeldGrade
      cell={cell}
      column={column}
      label={`Grade of ${name}, ${column.title}`}
      says={says}
      onValue={(value) => onGrade(cell, value)}
      onEnter={onEnter}
    />
  );
}

const FIELD =
  'h-7 w-14 rounded border border-transparent px-1 text-right text-soft italic tabular hover:border-line';

/**
 * A grade that can be typed. A mark book of a year has two thousand: each is plain text, which a browser draws fast, until somebody comes to it; or
 * where something was typed and not finished.
 */
function HeldGrade({
  cell,
  column,
  label,
  says,
  onValue,
  onEnter,
}: {
  readonly cell: OpenCell;
  readonly column: BookColumn;
  readonly label: string;
  /** Whose work, which, and where it is. */
  readonly says: string;
  onValue(value: number | null): void;
  onEnter(): void;
}) {
  const me = useHere().session.person!.id;
  const sheetId = sheetOf(cell);
  const [come, setCome] = useState(false);
  const [draft] = useState(() => hasKept(placeOfGrade(me, sheetId)));
  const input = useRef<HTMLInputElement>(null);
  useLayoutEffect(() => {
    if (come) input.current?.focus();
  }, [come]);
  const most = column.most!;
  const field = come || draft;
  return (
    <span className="inline-flex items-center gap-1">
      {cell.grade === null && (
        <Link to={addressOf(cell)} aria-label={says} {...tip(says)} tabIndex={-1}>
          <Where cell={cell} />
        </Link>
      )}
      {field ? (
        <GradeField
          label={label}
          sheetId={sheetId}
          inputRef={input}
          className={`${FIELD} bg-transparent focus:border-action focus:bg-paper focus:text-text focus:not-italic`}
          value={cell.grade}
          most={most}
          scale={column.scale}
          onValue={onValue}
          onEnter={onEnter}
        />
      ) : (
        <span
          role="textbox"
          aria-label={label}
          tabIndex={0}
          className={`${FIELD} inline-block cursor-text leading-[26px]`}
          onFocus={() => setCome(true)}
        >
          {cell.grade === null ? '' : formatGrade(cell.grade, most, column.scale)}
        </span>
      )}
    </span>
  );
}

const addressOf = (cell: BookCell) => (cell.handInId ? `/desk/${cell.copyId}` : `/score/${cell.copyId}`);

/** Where the copy is; missing work is said in a word. */
function Where({ cell }: { cell: BookCell }) {
  if (cell.missing) return <span className="text-[13px] text-caution">missing</span>;
  return (
    <span className="text-soft">
      <PlaceGlyph place={cell.place} size={15} />
    </span>
  );
}

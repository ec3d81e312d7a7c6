import {
  type BookCell,
  type ChangeId,
  type ClassId,
  type CopyId,
  gradeOf,
  type MarkBook,
} from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { keys } from '../ask/keys.ts';
import { useStable } from '../frame/useStable.ts';
import { aloneSheet } from '../outbox/alone.ts';
import { outbox } from '../outbox/outbox.ts';

/** A cell that takes a grade here: nobody has got it yet, and it is not marked blind. */
export type OpenCell = BookCell & { readonly copyId: CopyId };
export const isOpen = (cell: BookCell | undefined): cell is OpenCell =>
  !!cell && cell.copyId !== null && cell.held && !cell.own;

interface Step {
  readonly cell: OpenCell;
  readonly was: number | null;
}

export const sheetOf = (cell: OpenCell) => cell.handInId ?? aloneSheet(cell.copyId);

const withGrade = (cell: BookCell, value: number | null, version: ChangeId | null): BookCell => ({
  ...cell,
  typed: value,
  grade: gradeOf(value, cell.computed),
  gradeVersion: version,
});

/** The cell with what was typed and is still on its way: what the server said may be older. */
export function withWaiting(cell: BookCell): BookCell {
  if (!isOpen(cell)) return cell;
  let now: BookCell = cell;
  for (const letter of outbox.waitingIn(sheetOf(cell)))
    if (letter.type === 'write' && letter.field === 'grade') now = withGrade(now, letter.value, letter.id);
  return now;
}

/** Grades typed into the mark book: shown in the next frame, kept on this device until the server has them, taken back a gesture at a time. */
export function useBookWrites(classId: ClassId) {
  const client = useQueryClient();
  const done = useRef<Step[][]>([]);
  const now = (cell: BookCell): BookCell | undefined => {
    const said = client
      .getQueryData<MarkBook>(keys.markBook(classId))
      ?.cells.find((c) => c.personId === cell.personId && c.assignmentId === cell.assignmentId);
    return said && withWaiting(said);
  };
  const show = (cell: OpenCell, value: number | null, version: ChangeId | null) =>
    client.setQueryData(
      keys.markBook(classId),
      (old: MarkBook | undefined) =>
        old && {
          ...old,
          // Of a group all its members have the one grade.
          cells: old.cells.map((c) =>
            c.copyId === cell.copyId && !c.own ? withGrade(c, value, version) : c,
          ),
        },
    );
  const write = (cell: OpenCell, value: number | null): Step | null => {
    const stands = now(cell);
    if (!isOpen(stands)) return null;
    show(stands, value, stands.gradeVersion);
    outbox
      .writeSlip({
        sheetId: sheetOf(stands),
        field: 'grade',
        value,
        was: stands.typed,
        base: stands.gradeVersion,
      })
      // The next is made on this one.
      .then((change) => change && show(stands, value, change.id));
    return { cell: stands, was: stands.typed };
  };
  return useStable({
    /** Writes some grades as one gesture; gives how many were another than before. */
    grades(all: readonly { readonly cell: OpenCell; readonly value: number | null }[]): number {
      const other = all.filter(({ cell, value }) => now(cell)?.typed !== value);
      const steps = other.flatMap(({ cell, value }) => write(cell, value) ?? []);
      if (steps.length) done.current.push(steps);
      return steps.length;
    },
    /** Takes the last gesture back; gives how many grades it touched. Also where the server's word, asked for before the gesture, came after it. */
    undo(): number {
      const steps = done.current.pop() ?? [];
      for (const { cell, was } of steps) write(cell, was);
      return steps.length;
    },
  });
}

import type {
  BroughtGrades,
  BroughtWork,
  ChangeId,
  ClassId,
  CopyId,
  MarkingChange,
  Person,
  PersonId,
} from '@jotmark/core';
import { setAssignment } from '../assignment/set.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { takeChanges } from '../marking/take-changes.ts';
import { readMarkBook } from './mark-book.ts';

/**
 * Grades that another program's register holds go into a class's mark book: work of a title that is here already takes what is not entered yet, other work is made anew, to be handed in by
 * nobody. They are typed grades that are still held. Gives how much went in, and how many were kept as they stand here. Brought in twice nothing is entered twice.
 */
export async function bringGrades(
  house: House,
  person: Person,
  classId: ClassId,
  works: readonly BroughtWork[],
): Promise<BroughtGrades> {
  const told = { works: 0, grades: 0, kept: 0 };
  for (const work of works) {
    const book = await readMarkBook(house, classId);
    const column = book.columns.find((c) => c.title === work.title);
    if (column && column.most !== work.most)
      throw new Fault('work-differs', { title: work.title, most: (column.most ?? 0) / 100 });
    const cells = new Map(
      book.cells.filter((c) => c.assignmentId === column?.id).map((c) => [c.personId, c]),
    );
    const copies = column ? null : await made(house, classId, work);
    if (copies) told.works++;
    for (const { personId, grade } of work.grades) {
      const cell = cells.get(personId);
      const copyId = copies?.get(personId) ?? cell?.copyId;
      if (!copyId || (cell && (cell.grade !== null || !cell.held))) {
        told.kept++;
        continue;
      }
      const of = cell?.handInId ? { handInId: cell.handInId } : { copyId };
      const change: MarkingChange = {
        id: newId<ChangeId>(house),
        base: cell?.gradeVersion ?? null,
        type: 'write',
        field: 'grade',
        value: grade,
        was: null,
      };
      await takeChanges(house, person, of, [change]);
      told.grades++;
    }
  }
  return told;
}

async function made(
  house: House,
  classId: ClassId,
  { title, category, most, dueAt }: BroughtWork,
): Promise<Map<PersonId, CopyId>> {
  const { copies } = await setAssignment(house, {
    classId,
    title,
    instructions: '',
    dueAt,
    most,
    category,
    handsIn: false,
  });
  return copies;
}

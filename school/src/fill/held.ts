import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type AssignmentId,
  type ChangeId,
  type CopyId,
  type HandInId,
  MarkingChange,
  type Person,
  PLAIN_HAND_BACK,
} from '@jotmark/core';
import {
  arriveNow,
  handBack,
  handInFor,
  keepOpened,
  newestBack,
  newId,
  type Opener,
  orderHandBack,
  readMarking,
  recall,
  takeChanges,
} from '@jotmark/server';
import type { SchoolHouse } from './pile.ts';
import { asset } from './setting.ts';

const HOUR = 3_600_000;

interface Held {
  readonly house: SchoolHouse;
  readonly teacher: Person;
}

/** What goes back by itself tomorrow: until then it can be marked on, or cancelled. */
export async function goesBackLater(
  { house, teacher }: Held,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
  at: number,
): Promise<void> {
  const how = {
    ...PLAIN_HAND_BACK,
    sentence: 'Your talks: read what I heard.',
    reflect: 'What would you say first next time?',
  };
  await orderHandBack(house, teacher, { assignmentId, copyIds, how, at, soon: false });
}

/** Words and marks of a copy go back before its grade. */
export async function wordsFirst(
  { house, teacher }: Held,
  assignmentId: AssignmentId,
  copyId: CopyId,
): Promise<void> {
  await handBack(house, teacher, assignmentId, [copyId], {
    ...PLAIN_HAND_BACK,
    unfinished: true,
    sentence: 'I have only begun: look at the first minute already.',
  });
}

/** Of what went back one copy is recalled and still with the teacher; another was read, recalled, and is back with another grade. */
export async function recalledOnce(
  { house, teacher }: Held,
  assignmentId: AssignmentId,
  back: readonly { readonly copyId: CopyId; readonly handInId: HandInId; readonly student: Person }[],
  at: number,
): Promise<void> {
  const [stays, again] = [back.at(-1)!, back.at(-2)!];
  const seen = (await newestBack(house.db.manager, again.copyId, again.handInId))!;
  house.setClock(at - 20 * HOUR);
  await keepOpened(house, again.student, seen.id, []);
  house.setClock(at - 3 * HOUR);
  const words = 'I counted question 2 wrongly. You get it back today.';
  for (const { copyId } of [stays, again])
    await recall(house, teacher, assignmentId, [copyId], { tell: true, words });
  const { slip } = await readMarking(house.db.manager, again.handInId);
  const change = {
    id: newId<ChangeId>(house),
    base: slip.grade.version,
    type: 'write',
    field: 'grade',
    value: (slip.grade.value ?? 0) + 50,
    was: slip.grade.value,
  };
  await takeChanges(house, teacher, { handInId: again.handInId }, [MarkingChange.parse(change)]);
  house.setClock(at - 2 * HOUR);
  await handBack(house, teacher, assignmentId, [again.copyId], PLAIN_HAND_BACK);
}

/** A photo of a sheet that a student gave in on paper: the teacher hands it in for them. */
export async function fromPaper(
  { house, teacher }: Held,
  opener: Opener,
  folder: string,
  copyId: CopyId,
  at: number,
): Promise<void> {
  house.setClock(at);
  const path = join(folder, `${copyId}-paper.jpg`);
  await writeFile(path, await readFile(asset('page by hand.jpg')));
  const { documentId } = await arriveNow(house, opener, { at: 'for-student', ownerId: teacher.id }, [
    { path, name: 'from paper.jpg' },
  ]);
  await handInFor(house, teacher, copyId, newId(house), { documents: [documentId], onTime: true });
}

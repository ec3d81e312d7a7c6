import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type DocumentId,
  type HandInId,
  isMarginMark,
  type MarginMark,
  type MarkId,
  type MessageAct,
  type Person,
} from '@jotmark/core';
import {
  addFile,
  addMessage,
  type House,
  handIn,
  keepOpened,
  NoticeTable,
  newestBack,
  newId,
  type Opener,
  takeAway,
} from '@jotmark/server';
import { type FilledIn, fillIn } from '../answers/fill-in.ts';
import type { Chance } from '../chance.ts';
import type { Worksheet } from '../worksheet/worksheets.ts';

import type { SchoolHouse } from './pile.ts';

const HOUR = 3_600_000;

interface Reading {
  readonly house: SchoolHouse;
  readonly student: Person;
  readonly copyId: Parameters<typeof newestBack>[1];
  readonly handInId: Parameters<typeof newestBack>[2];
  readonly at: number;
  /** How many of the notes they opened, and how many they called sorted. */
  readonly opened: number;
  readonly sorted: number;
}

/** A student reads what came back, and does something about it. */
export async function readBack(r: Reading): Promise<void> {
  const { house, student, copyId } = r;
  const db = house.db.manager;
  house.setClock(r.at);
  const back = await newestBack(db, copyId, r.handInId);
  if (!back) return;
  const notes = back.content.marks.filter(isMarginMark);
  await keepOpened(
    house,
    student,
    back.id,
    notes.slice(0, r.opened).map((m) => m.id as MarkId),
  );
  for (const note of notes.slice(0, r.sorted)) await act(r, note, 'sorted');
}

const act = (r: Reading, note: MarginMark, what: MessageAct) =>
  addMessage(r.house, r.house.db.manager, {
    copyId: r.copyId,
    by: r.student.id,
    words: '',
    cover: false,
    act: what,
    place: { document: note.document, page: note.page, x: 100, y: 100, mark: note.id },
  });

/** What came in of one student, as it went back. */
interface Back {
  readonly copyId: Reading['copyId'];
  readonly handInId: HandInId;
  readonly documentId: DocumentId;
  readonly filled: FilledIn;
  readonly student: Person;
}

interface Again {
  readonly house: Reading['house'];
  readonly opener: Opener;
  readonly folder: string;
  readonly chance: Chance;
  readonly sheet: Worksheet;
  readonly back: readonly Back[];
  /** When most of them read it. */
  readonly evening: number;
  readonly now: number;
}

/** Most of a class read what came back and do something about it; two of them have another go, with what they were told. */
export async function readAndAgain(a: Again): Promise<void> {
  const { house, sheet } = a;
  for (const [i, { copyId, handInId, student }] of a.back.entries())
    if (i % 4 !== 3 && i > 0)
      await readBack({
        ...{ house, copyId, handInId, student },
        at: a.evening - (i % 7) * HOUR,
        opened: 1 + (i % 5),
        sorted: i % 3,
      });
  const noted: Back[] = [];
  for (const one of a.back.slice(4)) {
    const notes = (await newestBack(house.db.manager, one.copyId, one.handInId))?.notes ?? 0;
    // What was typed can be compared word by word.
    if (one.filled.typed && notes >= 2) noted.push(one);
  }
  for (const [n, { copyId, documentId, student }] of noted.slice(0, 2).entries()) {
    house.setClock(a.now - (20 + n) * HOUR);
    const better = await fillIn(a.chance, sheet, `${student.given} ${student.family}`, 0.98, true);
    const path = join(a.folder, `${copyId}-again.pdf`);
    await writeFile(path, better.bytes);
    await takeAway(house, copyId, documentId);
    await addFile(house, a.opener, copyId, { path, name: `${sheet.title} again.pdf` });
    await handIn(house, student, copyId, {
      id: newId(house),
      cover: n === 0 ? 'I counted the squares again, twice.' : '',
      claimedAt: null,
    });
  }
}

/** What was told long ago was read long ago: only the last two days are new. */
export async function oldNewsIsRead(house: House, before: number): Promise<void> {
  await house.db.manager
    .createQueryBuilder()
    .update(NoticeTable)
    .set({ readAt: before })
    .where('at < :before', { before: new Date(before) })
    .execute();
}

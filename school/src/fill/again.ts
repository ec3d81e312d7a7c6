import { isMarginMark, type MarginMark, type MarkId, type MessageAct, type Person } from '@jotmark/core';
import { addMessage, type House, keepOpened, NoticeTable, newestBack } from '@jotmark/server';

interface Reading {
  readonly house: House & { setClock(to: number): void };
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

/** What was told long ago was read long ago: only the last two days are new. */
export async function oldNewsIsRead(house: House, before: number): Promise<void> {
  await house.db.manager
    .createQueryBuilder()
    .update(NoticeTable)
    .set({ readAt: before })
    .where('at < :before', { before: new Date(before) })
    .execute();
}

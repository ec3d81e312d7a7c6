import type { CopyId, HandInId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, type Loose, testServer } from '../testing/house.ts';
import { note, put } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';
import { madeWorksheet, worksheetRead } from '../testing/worksheets.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

type Handed = Awaited<ReturnType<typeof handedIn>>;

/** A class in which Ben has handed in nothing yet, and Ben. */
async function before(dueAt: number | null = null) {
  const h = await handedIn(running, ['ada', 'ben'], dueAt);
  const ben = await new Caller(running.address).signIn(h.students[1]!.login);
  return { h, ben, copyId: h.copyOf(1) };
}
const sendFor = async (h: Handed, copyId: CopyId, words = 'from paper', caller = h.teacherCaller) =>
  caller.send(`/api/copies/${copyId}/files-for`, [['scan.pdf', await plainPdf([words])]]);
const handInFor = (
  h: Handed,
  copyId: CopyId,
  documents: string[],
  over: object = {},
  caller = h.teacherCaller,
) =>
  caller.call('handInFor', {
    params: { copyId },
    body: { id: newId<HandInId>(running.house), documents, onTime: false, ...over },
  });
const workOf = async (ben: Caller, copyId: CopyId): Promise<Loose> =>
  (await ben.call('work', { params: { copyId } })).body;
const deskOf = async (h: Handed, copyId: CopyId): Promise<Loose> =>
  (await h.teacherCaller.call('desk', { params: { copyId } })).body;

describe('handing in for a student', () => {
  test('takes what was brought; both sides see who did it, and the student is told', async () => {
    const { h, ben, copyId } = await before();
    const { body: file } = await sendFor(h, copyId);
    // Nobody sees it before.
    expect((await workOf(ben, copyId)).files).toEqual([]);
    expect((await ben.call('documentPages', { params: { documentId: file.id } })).status).toBe(404);
    const id = newId<HandInId>(running.house);
    expect((await handInFor(h, copyId, [file.id], { id })).status).toBe(200);
    // Sent twice it counts once.
    expect((await handInFor(h, copyId, [file.id], { id })).status).toBe(200);
    const desk = await deskOf(h, copyId);
    expect(desk).toMatchObject({ handIn: { id, number: 1 }, documents: [{ id: file.id, name: 'scan.pdf' }] });
    expect(desk.handIn.by).toContain(h.teacher.family);
    const work = await workOf(ben, copyId);
    expect(work).toMatchObject({ row: { place: 'in' }, handIn: { by: desk.handIn.by } });
    const news = (await ben.call('news', {})).body.notices;
    expect(news[0]).toMatchObject({ kind: 'handed-in-for', copyId });
    // Who did it need not be told, and what a student hands in is theirs.
    expect(
      (await h.teacherCaller.call('news', {})).body.notices.filter((n: Loose) => n.copyId === copyId),
    ).toEqual([]);
    expect((await deskOf(h, h.copyId)).handIn.by).toBeNull();
  });

  test('what lies on the copy already goes along, what the student did first', async () => {
    const { h, ben, copyId } = await before();
    const own = await ben.upload(copyId, await plainPdf(['mine']), 'mine.pdf');
    const { body: file } = await sendFor(h, copyId);
    await handInFor(h, copyId, [file.id]);
    expect((await deskOf(h, copyId)).documents.map((d: Loose) => d.id)).toEqual([own.body.id, file.id]);
  });

  test('on time is on time, whenever it is brought in', async () => {
    const past = Date.now() - 3 * 86_400_000;
    const { h, copyId } = await before(past);
    const { body: file } = await sendFor(h, copyId);
    await handInFor(h, copyId, [file.id], { onTime: true });
    expect((await deskOf(h, copyId)).handIn.late).toBe(0);
    const other = await before(past);
    const { body: late } = await sendFor(other.h, other.copyId);
    await handInFor(other.h, other.copyId, [late.id]);
    expect((await deskOf(other.h, other.copyId)).handIn.late).toBeGreaterThan(2 * 86_400_000);
  });

  test('what is with the teacher already is refused before a file is sent', async () => {
    const { h } = await before();
    expect((await sendFor(h, h.copyId)).body.error.code).toBe('already-handed-in');
    const { body: file } = await sendFor(h, h.copyOf(1));
    expect((await handInFor(h, h.copyId, [file.id])).body.error.code).toBe('already-handed-in');
  });

  test.each([
    ['a file that is not there', async () => newId(running.house)],
    [
      'the pages of a worksheet',
      async (h: Handed) => {
        const sheet = await madeWorksheet(h.teacherCaller);
        return (await worksheetRead(h.teacherCaller, sheet)).document.id;
      },
    ],
    ['a file of another copy', async (h: Handed) => (await deskOf(h, h.copyId)).documents[0].id],
  ])('%s is refused, and nothing is handed in', async (_, which) => {
    const { h, ben, copyId } = await before();
    const good = (await sendFor(h, copyId)).body.id;
    expect((await handInFor(h, copyId, [good, await which(h)])).status).toBe(404);
    expect(await workOf(ben, copyId)).toMatchObject({ handIn: null, files: [] });
    // All or none: the good one can still be handed in.
    expect((await handInFor(h, copyId, [good])).status).toBe(200);
  });

  test('only who teaches the class may', async () => {
    const { h, ben, copyId } = await before();
    const other = (await handedIn(running)).teacherCaller;
    const { body: file } = await sendFor(h, copyId);
    for (const [caller, status] of [
      [other, 404],
      [ben, 403],
    ] as const) {
      expect((await sendFor(h, copyId, 'x', caller)).status).toBe(status);
      expect((await handInFor(h, copyId, [file.id], {}, caller)).status).toBe(status);
    }
  });
});

describe('undone', () => {
  const undo = (h: Handed, copyId: CopyId, handInId: string) =>
    h.teacherCaller.call('undoHandInFor', { params: { copyId, handInId } });

  test('the copy is as it was, and nobody was told anything', async () => {
    const { h, ben, copyId } = await before();
    const own = await ben.upload(copyId, await plainPdf(['mine']), 'mine.pdf');
    const { body: file } = await sendFor(h, copyId);
    const id = newId<HandInId>(running.house);
    await handInFor(h, copyId, [file.id], { id });
    expect((await undo(h, copyId, id)).status).toBe(200);
    const work = await workOf(ben, copyId);
    expect(work).toMatchObject({ row: { place: 'with-student' }, handIn: null });
    expect(work.files.map((f: Loose) => f.id)).toEqual([own.body.id]);
    expect((await ben.call('documentPages', { params: { documentId: file.id } })).status).toBe(404);
    expect((await ben.call('news', {})).body.notices.map((n: Loose) => n.kind)).not.toContain(
      'handed-in-for',
    );
    expect((await undo(h, copyId, id)).body.error.code).toBe('not-handed-in');
  });

  test('not what a student handed in, and not what is being marked', async () => {
    const { h, copyId } = await before();
    const { handIn } = await deskOf(h, h.copyId);
    expect((await undo(h, h.copyId, handIn.id)).body.error.code).toBe('not-handed-in');
    const { body: file } = await sendFor(h, copyId);
    const id = newId<HandInId>(running.house);
    await handInFor(h, copyId, [file.id], { id });
    await h.teacherCaller.call('sendChanges', {
      params: { handInId: id },
      body: { changes: [put(note(file.id, 'Good.'))] },
    });
    expect((await undo(h, copyId, id)).body.error.code).toBe('marking-begun');
    expect((await deskOf(h, copyId)).handIn.id).toBe(id);
  });
});

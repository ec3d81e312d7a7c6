import { randomBytes } from 'node:crypto';
import {
  type ChangeId,
  type CopyChange,
  type DocumentId,
  type InkMark,
  type MarkId,
  makeId,
  type Question,
  replayText,
} from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addWorksheet } from '../assignment/materials.ts';
import { setAssignment } from '../assignment/set.ts';
import type { Running } from '../serve.ts';
import { Caller, type Loose, readingDone, smallClass, testServer } from '../testing/house.ts';
import { done, note, put as putMark } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 2 }, { now: () => clock });
});
afterAll(() => running.stop());

const id = <T extends string>() => makeId(clock, randomBytes(10)) as T;

/** A class with a worksheet of its own questions handed out; the first student is signed in. */
async function handedOut(questions: readonly Question[], bytes?: Uint8Array) {
  const school = await smallClass(running);
  const teacher = await new Caller(running.address).signIn(school.teacher.login);
  const worksheetId = await madeWorksheet(teacher, bytes ? [['Map work.pdf', bytes]] : undefined);
  const sheet = await worksheetRead(teacher, worksheetId);
  const saved = await teacher.call('saveQuestions', {
    params: { worksheetId },
    body: { versionId: sheet.versionId, revision: sheet.revision, questions },
  });
  expect(saved.status).toBe(200);
  const set = await setAssignment(
    running.house,
    { classId: school.classId, title: 'Sheet', instructions: '', dueAt: clock + 3_600_000, most: 1000 },
    (a) => addWorksheet(running.house, a, worksheetId as never),
  );
  const ada = await new Caller(running.address).signIn(school.students[0]!.login);
  const copyId = set.copies.get(school.students[0]!.id)!;
  const send = async (...changes: CopyChange[]) =>
    (await ada.call('sendCopyChanges', { params: { copyId }, body: { changes } })).body;
  return {
    ...school,
    teacher,
    worksheetId,
    sheet,
    ada,
    copyId,
    send,
    assignmentId: set.id,
    copies: set.copies,
  };
}

const write = (q: Question, value: string, base: ChangeId | null = null, was = ''): CopyChange => ({
  id: id<ChangeId>(),
  base,
  type: 'answer',
  question: q.id,
  value,
  was,
});
const stroke = (document: DocumentId, more: Partial<InkMark> = {}): CopyChange => ({
  id: id<ChangeId>(),
  base: null,
  type: 'put',
  was: null,
  mark: {
    v: 2,
    id: id<MarkId>(),
    document,
    page: 0,
    colour: 'graphite',
    focus: null,
    madeAt: 1000,
    kind: 'ink',
    points: [10_000, 30_000, 128, 20_000, 32_000, 128],
    width: 2,
    ...more,
  },
});
const outcomes = (answer: Loose) => answer.results.map((r: Loose) => r.reason ?? r.outcome);

describe('filling in', () => {
  test('a copy opens with the worksheet’s pages and questions; no bytes are stored again', async () => {
    const before = await blobs();
    const q = question(0, { kind: 'line' });
    const h = await handedOut([q]);
    const { body } = await h.ada.call('work', { params: { copyId: h.copyId } });
    expect(body.sheets).toMatchObject([
      { name: 'Map work', questions: [{ id: q.id }], document: { pages: 1 } },
    ]);
    expect((await h.ada.raw('GET', `/api/documents/${body.sheets[0].document.id}/file`)).status).toBe(200);
    // The worksheet itself as it came and made upright, its small picture, its text and what is drawn on it.
    expect((await blobs()) - before).toBeLessThanOrEqual(5);
  });

  test('answers and strokes are kept once, however often they are sent, and come back', async () => {
    const q = question(0, { kind: 'line' });
    const h = await handedOut([q]);
    const first = write(q, 'Tarn');
    const drawn = stroke(h.sheet.document.id);
    expect(outcomes(await h.send(first, drawn))).toEqual(['applied', 'applied']);
    expect(outcomes(await h.send(first, drawn))).toEqual(['already', 'already']);
    const second = write(q, 'Tarn Hut', first.id, 'Tarn');
    expect(outcomes(await h.send(second))).toEqual(['applied']);
    const { body } = await h.ada.call('work', { params: { copyId: h.copyId } });
    expect(body.state).toMatchObject({
      seq: 3,
      answers: [{ question: q.id, value: 'Tarn Hut', version: second.id }],
      marks: [{ version: drawn.id }],
    });
    const since = await h.ada.call('copyChangesSince', { params: { copyId: h.copyId }, query: '?after=1' });
    expect(since.body).toMatchObject({
      seq: 3,
      changes: [{ type: 'put' }, { type: 'answer', value: 'Tarn Hut' }],
    });
  });

  test('two tabs in one answer: the second is told, and nothing of the first is lost', async () => {
    const q = question(0, { kind: 'line' });
    const h = await handedOut([q]);
    const one = write(q, 'from here');
    const two = write(q, 'from there');
    const replies = await Promise.all([h.send(one), h.send(two)]);
    expect(replies.flatMap(outcomes).sort()).toEqual(['applied', 'conflict']);
    const { body } = await h.ada.call('work', { params: { copyId: h.copyId } });
    expect(['from here', 'from there']).toContain(body.state.answers[0].value);
    expect(body.state.seq).toBe(1);
  });

  test('what does not belong there is refused by reason: other questions, other pages, the teacher’s ink', async () => {
    const h = await handedOut([question(0, { kind: 'line' })]);
    const { document } = h.sheet;
    expect(
      outcomes(
        await h.send(
          write(question(1, { kind: 'line' }), 'x'),
          stroke(document.id, { page: 7 }),
          stroke(document.id, { colour: 'garnet' }),
        ),
      ),
    ).toEqual(['no-such-question', 'no-such-page', 'not-yours']);
  });

  test('every save leaves a step in the trail, from which each moment can be read again, in few bytes', async () => {
    const q = question(0, { kind: 'paragraph', lines: null });
    const h = await handedOut([q]);
    const text = 'Because everybody reads along first and then up, so nobody gets lost on the island.';
    let base: ChangeId | null = null;
    let was = '';
    for (let n = 6; n < text.length + 6; n += 6) {
      const change = write(q, text.slice(0, n), base, was);
      await h.send(change);
      base = change.id;
      was = text.slice(0, n);
    }
    const steps = await running.house.db.query(
      'SELECT value, subject, LENGTH(value) AS bytes FROM copy_trail WHERE copy_id = ? ORDER BY seq',
      [h.copyId],
    );
    const replayed = steps.reduce((now: string, s: Loose) => replayText(now, JSON.parse(s.value)), '');
    expect(replayed).toBe(text);
    expect(steps.every((s: Loose) => s.subject === q.id && s.bytes < 30)).toBe(true);
  });

  test('a student who opens it before its time finds nothing', async () => {
    const h = await handedOut([question(0, { kind: 'line' })]);
    await running.house.db.query('UPDATE assignment SET opens_at = ? WHERE id = ?', [
      new Date(clock + 60_000),
      h.assignmentId,
    ]);
    const params = { copyId: h.copyId };
    expect((await h.ada.call('work', { params })).status).toBe(404);
    expect((await h.ada.call('workList')).body.map((r: Loose) => r.copyId)).not.toContain(h.copyId);
    expect((await h.ada.call('documentFile', { params: { documentId: h.sheet.document.id } })).status).toBe(
      404,
    );
    expect((await h.ada.handIn(h.copyId)).status).toBe(404);
    clock += 61_000;
    expect((await h.ada.call('work', { params })).status).toBe(200);
  });
});

describe('handing in', () => {
  test('freezes version, answers, drawing and files; the pages hold what was typed as text', async () => {
    const line = question(0, { kind: 'line' });
    const choice = question(1, { kind: 'choice', options: ['north', 'south'], several: false });
    const number = question(2, { kind: 'number', unit: 'km' });
    const h = await handedOut([line, choice, number]);
    const first = write(line, 'Żółta łódź, Tarn Hut, Хижина');
    await h.send(first, write(choice, 'south'), write(number, '3,4'), stroke(h.sheet.document.id));
    const laid = await h.ada.upload(h.copyId, await plainPdf(['An extra page']), 'extra.pdf');
    const name = `${h.students[0]!.given} Example`;
    const { body } = await h.ada.handIn(h.copyId, { cover: 'Please look at 2.' });
    expect(body.handIn.documents.map((d: Loose) => d.name)).toEqual([`Map work – ${name}`, 'extra.pdf']);
    const filled = body.handIn.documents[0].id;
    expect(await readingDone(h.ada, filled)).toBe('done');
    const words = await wordsOf(h.teacher, filled);
    expect(words).toContain('Żółta łódź, Tarn Hut, Хижина');
    expect(words).toContain('north');
    expect(words).toContain('3,4 km');
    // Whose it is stands beside the pages, not in them: they can be marked blind.
    expect(words).not.toContain(h.students[0]!.given);
    const [frozen] = await running.house.db.query('SELECT content FROM hand_in WHERE id = ?', [
      body.handIn.id,
    ]);
    expect(JSON.parse(frozen.content)).toMatchObject({
      v: 1,
      sheets: [
        {
          answers: { [line.id]: first.type === 'answer' ? first.value : '', [choice.id]: 'south' },
          marks: [{ kind: 'ink' }],
        },
      ],
    });
    expect(body.files.map((f: Loose) => f.id)).toEqual([laid.body.id]);
    const talk = await h.teacher.call('messages', { params: { copyId: h.copyId } });
    expect(talk.body.messages).toMatchObject([
      { words: 'Please look at 2.', cover: true, unread: true, mine: false },
    ]);
  });

  test('the paper does not change while it is with the teacher', async () => {
    const q = question(0, { kind: 'line' });
    const h = await handedOut([q]);
    await h.send(write(q, 'first'));
    await h.ada.handIn(h.copyId);
    expect(outcomes(await h.send(write(q, 'second')))).toEqual(['handed-in']);
    expect((await h.ada.upload(h.copyId, await plainPdf(), 'late.pdf')).body.error.code).toBe(
      'already-handed-in',
    );
  });

  test('an answer that finds no room goes on, whole, on a sheet behind', async () => {
    const small = question(0, { kind: 'line' }, { box: [60, 160, 140, 178] });
    const h = await handedOut([small]);
    const long = Array.from({ length: 40 }, (_, i) => `word${i}`).join(' ');
    await h.send(write(small, long));
    const { body } = await h.ada.handIn(h.copyId);
    const documentId = body.handIn.documents[0].id;
    await readingDone(h.ada, documentId);
    const { body: text } = await h.teacher.call('documentText', { params: { documentId } });
    expect(text).toHaveLength(2);
    expect(text[1].words.map((w: Loose) => w.text).join(' ')).toContain(long);
  });

  test('typed words stand in their region, at the size the student saw', async () => {
    const q = question(0, { kind: 'line' }, { box: [100, 200, 400, 222] });
    const h = await handedOut([q]);
    await h.send(write(q, 'Summit'));
    const { body } = await h.ada.handIn(h.copyId);
    const documentId = body.handIn.documents[0].id;
    await readingDone(h.ada, documentId);
    const { body: text } = await h.teacher.call('documentText', { params: { documentId } });
    const { box } = text[0].words.find((w: Loose) => w.text === 'Summit');
    expect(box[0]).toBeCloseTo(103, 0);
    expect(box[1]).toBeGreaterThan(199);
    expect(box[3]).toBeLessThan(224);
  });

  test('sent twice counts once; the device’s time is kept as claimed, late is by the arrival', async () => {
    const q = question(0, { kind: 'line' });
    const h = await handedOut([q]);
    const claimedAt = clock + 1000;
    clock += 2 * 3_600_000;
    const handInId = id<string>();
    const first = await h.ada.handIn(h.copyId, { id: handInId, claimedAt });
    const again = await h.ada.handIn(h.copyId, { id: handInId, claimedAt });
    expect([first.status, again.status, again.body.handIn.id]).toEqual([200, 200, handInId]);
    expect(first.body.handIn.claimedAt).toBe(claimedAt);
    expect(first.body.row.late).toBeGreaterThan(3_000_000);
    const desk = await h.teacher.call('desk', { params: { copyId: h.copyId } });
    expect(desk.body.handIn).toMatchObject({ claimedAt, number: 1 });
    // A clock that runs ahead cannot claim the future.
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const ahead = await ben.handIn(h.copies.get(h.students[1]!.id)!, { claimedAt: clock + 86_400_000 });
    expect(ahead.body.handIn.claimedAt).toBeLessThanOrEqual(clock);
  });

  test('late follows a date that is changed while the student types, and a date of one’s own', async () => {
    const h = await handedOut([question(0, { kind: 'line' })]);
    const params = { assignmentId: h.assignmentId, personId: h.students[0]!.id };
    clock += 2 * 3_600_000;
    expect((await h.ada.call('work', { params: { copyId: h.copyId } })).body.row.overdue).toBe(true);
    await h.teacher.call('studentTerms', { params, body: { excused: false, dueAt: clock + 60_000 } });
    expect((await h.ada.handIn(h.copyId)).body.row).toMatchObject({ late: 0, overdue: false });
  });

  test('work with nothing to hand in is called done', async () => {
    const school = await smallClass(running);
    const set = await setAssignment(running.house, {
      classId: school.classId,
      title: 'Read',
      instructions: '',
      dueAt: null,
      most: null,
      handsIn: false,
    });
    const ada = await new Caller(running.address).signIn(school.students[0]!.login);
    const teacher = await new Caller(running.address).signIn(school.teacher.login);
    const copyId = set.copies.get(school.students[0]!.id)!;
    expect((await ada.handIn(copyId)).body).toMatchObject({
      row: { place: 'in' },
      handIn: { documents: [] },
    });
    const desk = await teacher.call('desk', { params: { copyId } });
    expect(desk.body.documents).toEqual([]);
    // Where something is asked for, nothing is not enough.
    expect((await ada.handIn(school.copyOf(0))).body.error.code).toBe('nothing-to-hand-in');
  });

  test('files go in the student’s order, and the marked copy is one PDF of all of them', async () => {
    const q = question(0, { kind: 'line' });
    const h = await handedOut([q]);
    const ids: string[] = [];
    for (const name of ['a', 'b', 'c'])
      ids.push((await h.ada.upload(h.copyId, await plainPdf([`page ${name}`]), `${name}.pdf`)).body.id);
    const order = [ids[2]!, ids[0]!, ids[1]!];
    await h.ada.call('orderFiles', { params: { copyId: h.copyId }, body: { order } });
    const { body } = await h.ada.handIn(h.copyId);
    const documents = body.handIn.documents.map((d: Loose) => d.id);
    expect(documents.slice(1)).toEqual(order);
    for (const d of documents) await readingDone(h.ada, d);
    const params = { handInId: body.handIn.id };
    const sent = await h.teacher.call('sendChanges', {
      params,
      body: { changes: [putMark(note(documents[1], 'here')), done(true)] },
    });
    expect(sent.status).toBe(200);
    await h.teacher.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
    const back = (await h.ada.call('work', { params: { copyId: h.copyId } })).body.handBack;
    // The cover sheet is before them.
    expect(await pdfPages(h.ada, back.id)).toBe(5);
  });
});

describe('taking back', () => {
  test('reopens the copy until marking has begun, and the next hand-in is the first again', async () => {
    const q = question(0, { kind: 'line' });
    const h = await handedOut([q]);
    const first = write(q, 'first');
    await h.send(first);
    const one = await h.ada.handIn(h.copyId);
    const back = await h.ada.call('takeBack', { params: { copyId: h.copyId } });
    expect(back.body).toMatchObject({ row: { place: 'with-student' }, handIn: null });
    expect((await h.teacher.call('desk', { params: { copyId: h.copyId } })).status).toBe(404);
    expect(outcomes(await h.send(write(q, 'second', first.id, 'first')))).toEqual(['applied']);
    // The old hand-in sent again, from a device that was away, brings nothing back.
    await h.ada.handIn(h.copyId, { id: one.body.handIn.id });
    expect((await h.ada.call('work', { params: { copyId: h.copyId } })).body.row.place).toBe('with-student');
    const two = await h.ada.handIn(h.copyId);
    expect(two.body.handIn.number).toBe(1);
    const [kept] = await running.house.db.query('SELECT content FROM taken_back WHERE copy_id = ?', [
      h.copyId,
    ]);
    expect(kept.content).toContain('first');
  });

  test('is refused when marking has begun, and nothing of the marking shows', async () => {
    const h = await handedOut([question(0, { kind: 'line' })]);
    const { body } = await h.ada.handIn(h.copyId);
    await h.teacher.call('sendChanges', {
      params: { handInId: body.handIn.id },
      body: { changes: [done(true)] },
    });
    const back = await h.ada.call('takeBack', { params: { copyId: h.copyId } });
    expect(back).toMatchObject({ status: 409, body: { error: { code: 'not-to-take-back', facts: {} } } });
  });

  test('and marking at the very same moment: only one of them comes first', async () => {
    for (let round = 0; round < 6; round++) {
      const h = await handedOut([question(0, { kind: 'line' })]);
      const { body } = await h.ada.handIn(h.copyId);
      const [back, marked] = await Promise.all([
        h.ada.call('takeBack', { params: { copyId: h.copyId } }),
        h.teacher.call('sendChanges', {
          params: { handInId: body.handIn.id },
          body: { changes: [done(true)] },
        }),
      ]);
      expect([back.status, marked.status].sort()).toEqual([200, 409]);
      if (marked.status === 409) expect(marked.body.error.code).toBe('taken-back');
      const [orphan] = await running.house.db.query(
        'SELECT COUNT(*) AS n FROM marking m LEFT JOIN hand_in h ON h.id = m.hand_in_id WHERE h.id IS NULL',
      );
      expect(Number(orphan.n)).toBe(0);
    }
  }, 60_000);
});

const blobs = async () => Number((await running.house.db.query('SELECT COUNT(*) AS n FROM blob_file'))[0].n);

async function wordsOf(caller: Caller, documentId: string): Promise<string> {
  const { body } = await caller.call('documentText', { params: { documentId } });
  return body.flatMap((p: Loose) => p.words.map((w: Loose) => w.text)).join(' ');
}

async function pdfPages(caller: Caller, handBackId: string): Promise<number> {
  const { body } = await caller.call('makePdf', { params: { handBackId } });
  await caller.outcome(body.jobId);
  const file = await caller.raw('GET', `/api/hand-backs/${handBackId}/pdf`);
  const { PDFDocument } = await import('@cantoo/pdf-lib');
  return (await PDFDocument.load(await file.arrayBuffer())).getPageCount();
}

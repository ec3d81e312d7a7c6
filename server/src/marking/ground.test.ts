import type { ChangeId, CopyId, HandInId, MarkId, MarkingChange, QuestionId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addWorksheet } from '../assignment/materials.ts';
import { setAssignment } from '../assignment/set.ts';
import { takeCopyChanges } from '../copy/take-changes.ts';
import {
  CopyMemberTable,
  HandBackTable,
  HandInAnswerTable,
  MarkingTable,
  MarkTable,
} from '../database/entities/index.ts';
import { find, insert, remove, update } from '../database/write.ts';
import { answersAcross } from '../hand-in/answers.ts';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { closing, done, grade, id, note, put } from '../testing/marks.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';
import { takeChanges } from './take-changes.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

const db = () => running.house.db.manager;

describe('a copy of several students', () => {
  /** A class whose first two students share one copy, as a group. */
  async function group() {
    const s = await smallClass(running, ['ada', 'ben', 'cyd']);
    const [ada, ben] = s.students;
    await remove(db(), CopyMemberTable, { copyId: s.copyOf(1) });
    await insert(db(), CopyMemberTable, {
      copyId: s.copyOf(0),
      personId: ben!.id,
      assignmentId: s.assignmentId,
    });
    const sign = (login: string) => new Caller(running.address).signIn(login);
    return {
      ...s,
      copyId: s.copyOf(0),
      teacherCaller: await sign(s.teacher.login),
      ada: await sign(ada!.login),
      ben: await sign(ben!.login),
      cyd: await sign(s.students[2]!.login),
    };
  }

  test('is each one’s, counts once in the pile under all their names, and any of them hands it in', async () => {
    const g = await group();
    const params = { copyId: g.copyId };
    for (const caller of [g.ada, g.ben]) expect((await caller.call('work', { params })).status).toBe(200);
    expect((await g.cyd.call('work', { params })).status).toBe(404);
    await g.ben.call('addLink', { params, body: { url: 'https://island.example/', name: 'Ours' } });
    expect((await g.ben.handIn(g.copyId)).body.row.place).toBe('in');
    expect((await g.ada.call('work', { params })).body.row.place).toBe('in');
    const { body } = await g.teacherCaller.call('pile', { params: { assignmentId: g.assignmentId } });
    const [row, ...others] = body.rows.filter((r: Loose) => r.copyId === g.copyId);
    expect(others).toEqual([]);
    expect(row.student.given).toContain(`${g.students[0]!.given} and ${g.students[1]!.given}`);
    expect(body.rows).toHaveLength(2);
  });

  test('comes back to all of them, and is blind for all of them', async () => {
    const g = await group();
    const params = { copyId: g.copyId };
    await g.teacherCaller.call('setBlind', {
      params: { assignmentId: g.assignmentId },
      body: { blind: true },
    });
    await g.ada.call('addLink', { params, body: { url: 'https://island.example/', name: '' } });
    const { body } = await g.ada.handIn(g.copyId);
    const desk = (await g.teacherCaller.call('desk', { params })).body;
    expect(JSON.stringify(desk)).not.toContain('Example');
    await g.teacherCaller.call('sendChanges', {
      params: { handInId: body.handIn.id },
      body: { changes: [done(true)] },
    });
    await g.teacherCaller.call('handBack', {
      params: { assignmentId: g.assignmentId },
      body: { copyIds: [g.copyId] },
    });
    for (const caller of [g.ada, g.ben])
      expect((await caller.call('work', { params })).body.handBack).toMatchObject({ handInNumber: 1 });
  });
});

describe('a marking', () => {
  test('of a copy to which nothing came in can be made, and a later hand-in has one of its own', async () => {
    const s = await smallClass(running);
    const copyId: CopyId = s.copyOf(0);
    const { results } = await takeChanges(running.house, s.teacher, { copyId }, [
      grade(700) as MarkingChange,
      closing('A good talk.') as MarkingChange,
    ]);
    expect(results.map((r) => r.outcome)).toEqual(['applied', 'applied']);
    expect(await find(db(), MarkingTable, { copyId, number: 0 })).toMatchObject({
      handInId: null,
      grade: 700,
      closing: 'A good talk.',
    });
    const teacher = await new Caller(running.address).signIn(s.teacher.login);
    const pile = async () =>
      (await teacher.call('pile', { params: { assignmentId: s.assignmentId } })).body.rows.find(
        (r: Loose) => r.copyId === copyId,
      );
    // It is with its student still; the grade that was given is seen.
    expect(await pile()).toMatchObject({ place: 'with-student', grade: 700 });
    const ada = await new Caller(running.address).signIn(s.students[0]!.login);
    await ada.call('addLink', { params: { copyId }, body: { url: 'https://island.example/', name: '' } });
    await ada.handIn(copyId);
    expect(await pile()).toMatchObject({ place: 'in', grade: null });
  });

  test('of a copy is a teacher’s of its class, nobody else’s', async () => {
    const s = await smallClass(running);
    const other = await smallClass(running);
    const copyId: CopyId = s.copyOf(0);
    await expect(
      takeChanges(running.house, other.teacher, { copyId }, [grade(1) as MarkingChange]),
    ).rejects.toMatchObject({ code: 'not-found' });
    expect(await find(db(), MarkingTable, { copyId })).toBeNull();
  });

  test('a mark that cannot be read is shown as such, handed back as it is, deleted and brought back', async () => {
    const h = await handedIn(running);
    const first = put(note(h.documentId, 'from a newer Jotmark'));
    await h.send(first);
    const mark = first.type === 'put' ? first.mark : null!;
    const raw = JSON.stringify({ v: 99, id: mark.id, document: h.documentId, page: 0, kind: 'hologram' });
    await running.house.db.query('UPDATE mark SET value = ? WHERE id = ?', [raw, mark.id]);
    const shown = async () =>
      (await h.teacherCaller.call('desk', { params: { copyId: h.copyId } })).body.marking.marks[0];
    const seen = (await shown()).mark;
    expect(seen).toMatchObject({ kind: 'unread', id: mark.id, raw });
    const gone = {
      id: id<ChangeId>(),
      base: first.id,
      type: 'remove' as const,
      of: mark.id as MarkId,
      was: seen,
    };
    await h.send(gone);
    expect((await shown()).mark).toBeNull();
    await h.send({ id: id<ChangeId>(), base: gone.id, type: 'put', mark: seen, was: null });
    // It stands in the table as it came.
    const [row] = await running.house.db.query('SELECT value FROM mark WHERE id = ?', [mark.id]);
    expect(row.value).toBe(raw);
    await h.send(done(true));
    await h.teacherCaller.call('handBack', {
      params: { assignmentId: h.assignmentId },
      body: { copyIds: [h.copyId] },
    });
    const { body } = await h.student.call('work', { params: { copyId: h.copyId } });
    expect(body.handBack.snapshot.marks).toEqual([seen]);
  });

  test('marks hold no bytes: a picture is named, and one that nobody has is refused', async () => {
    const h = await handedIn(running);
    const png =
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
    const { picture } = (await h.teacherCaller.call('keepPicture', { body: { base64: png } })).body;
    const stamp = (named: string) =>
      put({
        ...note(h.documentId, ''),
        kind: 'stamp',
        x: 1,
        y: 1,
        size: 20,
        turn: 0,
        points: null,
        look: { of: 'picture', name: 'seal', picture: named },
      } as never);
    const { results } = await h.send(stamp(picture), stamp('ab'.repeat(32)));
    expect(results.map((r: Loose) => [r.outcome, r.reason])).toEqual([
      ['applied', null],
      ['refused', 'no-such-picture'],
    ]);
    const got = await h.student.raw('GET', `/api/pictures/${picture}`);
    expect(Buffer.from(await got.arrayBuffer()).toString('base64')).toBe(png);
    // What students hand in cannot be asked for as a picture, whoever knows its digest.
    const [file] = await running.house.db.query('SELECT original_sha256 AS sha FROM document WHERE id = ?', [
      h.documentId,
    ]);
    expect((await h.student.raw('GET', `/api/pictures/${file.sha}`)).status).toBe(404);
  });
});

test('a hand-back that this program cannot read is told of by its name, and nothing of it is touched', async () => {
  const h = await handedIn(running);
  await h.send(done(true));
  await h.teacherCaller.call('handBack', {
    params: { assignmentId: h.assignmentId },
    body: { copyIds: [h.copyId] },
  });
  await running.house.db.query(`UPDATE hand_back SET content = '{"v":7}' WHERE copy_id = ?`, [h.copyId]);
  const { status, body } = await h.student.call('work', { params: { copyId: h.copyId } });
  expect([status, body.error]).toEqual([409, { code: 'unreadable', facts: { what: 'hand_back' } }]);
  await expect(find(db(), HandBackTable, { copyId: h.copyId })).rejects.toThrow(
    /^hand_back\.content of [0-9a-f-]{36} cannot be read: expected version 1 at most, not 7$/,
  );
});

test('answers are rows once they are handed in: a question is read across the class, equal ones by their digest', async () => {
  const s = await smallClass(running, ['ada', 'ben', 'cyd']);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const worksheetId = (await madeWorksheet(teacher)) as never;
  const sheet = await worksheetRead(teacher, worksheetId);
  const q = question(0, { kind: 'number', unit: 'km' });
  await teacher.call('saveQuestions', {
    params: { worksheetId },
    body: { versionId: sheet.versionId, revision: 1, questions: [q] },
  });
  const set = await setAssignment(
    running.house,
    { classId: s.classId, title: 'Ways', instructions: '', dueAt: null, most: null },
    (a) => addWorksheet(running.house, a, worksheetId),
  );
  const handIns: HandInId[] = [];
  for (const [n, value] of ['3,4', '3,4', '5'].entries()) {
    const student = s.students[n]!;
    const copyId = set.copies.get(student.id)!;
    await takeCopyChanges(running.house, copyId, [
      { id: id<ChangeId>(), base: null, type: 'answer', question: q.id, value, was: '' },
    ]);
    const caller = await new Caller(running.address).signIn(student.login);
    handIns.push((await caller.handIn(copyId, { id: newId(running.house) })).body.handIn.id);
  }
  const rows = await answersAcross(db(), set.id, q.id as QuestionId);
  expect(rows.map((r) => [r.kind, r.value, r.points]).sort()).toEqual([
    ['number', '3,4', null],
    ['number', '3,4', null],
    ['number', '5', null],
  ]);
  expect(new Set(rows.map((r) => r.digest)).size).toBe(2);
  await update(db(), HandInAnswerTable, { handInId: handIns[2]!, questionId: q.id }, { points: 50 });
  expect((await answersAcross(db(), set.id, q.id)).map((r) => r.points)).toContain(50);
  // Taken back, they are gone with the hand-in.
  const ada = await new Caller(running.address).signIn(s.students[0]!.login);
  await ada.call('takeBack', { params: { copyId: set.copies.get(s.students[0]!.id)! } });
  expect(await answersAcross(db(), set.id, q.id)).toHaveLength(2);
  expect(await find(db(), MarkTable, { id: id<MarkId>() })).toBeNull();
});

import { randomBytes } from 'node:crypto';
import { type ChangeId, type CopyChange, makeId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { done, grade } from '../testing/marks.ts';
import { madeWorksheet, question, worksheetRead } from '../testing/worksheets.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 2 }, { now: () => clock });
});
afterAll(() => running.stop());

const id = () => makeId(clock, randomBytes(10)) as ChangeId;
const Q = question(0, { kind: 'line' });

/** A class of four with a worksheet in a draft. */
async function drafted() {
  const s = await smallClass(running, ['ada', 'ben', 'cyd', 'dee']);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const worksheetId = await madeWorksheet(teacher);
  const sheet = await worksheetRead(teacher, worksheetId);
  await teacher.call('saveQuestions', {
    params: { worksheetId },
    body: { versionId: sheet.versionId, revision: sheet.revision, questions: [Q] },
  });
  const { body: draft } = await teacher.call('startAssignment', { params: { classId: s.classId } });
  const params = { assignmentId: draft.id as string };
  const { body: with1 } = await teacher.call('addMaterialWorksheet', { params, body: { worksheetId } });
  await teacher.call('saveAssignment', {
    params,
    body: {
      words: { ...with1.words, title: 'Together', most: 1000 },
      revision: with1.revision,
      audience: { alsoClasses: [], students: null },
      news: null,
    },
  });
  const people = s.students.map((p) => p.id);
  const callers: Caller[] = [];
  for (const p of s.students) callers.push(await new Caller(running.address).signIn(p.login));
  const together = (t: object | null) => teacher.call('saveTogether', { params, body: { together: t } });
  const out = async () => {
    await teacher.call('setAssignment', { params, body: { opensAt: null } });
    return Promise.all(callers.map((c) => copyIdOf(c, params.assignmentId)));
  };
  return { ...s, teacher, params, people, callers, together, out };
}

const copyIdOf = async (c: Caller, assignmentId: string): Promise<string> =>
  (await c.call('workList')).body.find((r: Loose) => r.assignment.id === assignmentId).copyId;
const write = (value: string, base: ChangeId | null = null, was = ''): CopyChange => ({
  id: id(),
  base,
  type: 'answer',
  question: Q.id,
  value,
  was,
});

describe('groups that the teacher makes', () => {
  test('one copy for a group, all write on it, any of them hands it in, each gets it back; who wrote what is in the trail', async () => {
    const h = await drafted();
    const [a, b, c, d] = h.people;
    expect((await h.together({ most: 3, chosenUntil: null, groups: [[a, b, c]] })).status).toBe(200);
    const copies = await h.out();
    expect(new Set(copies.slice(0, 3)).size).toBe(1);
    expect(copies[3]).not.toBe(copies[0]);
    const copyId = copies[0]!;
    const { body: work } = await h.callers[1]!.call('work', { params: { copyId } });
    expect(work.together).toMatchObject({ mayChoose: false });
    expect(work.together.others).toHaveLength(2);
    const first = write('from Ada');
    await h.callers[0]!.call('sendCopyChanges', { params: { copyId }, body: { changes: [first] } });
    const second = write('from Ada and Ben', first.id, 'from Ada');
    await h.callers[1]!.call('sendCopyChanges', { params: { copyId }, body: { changes: [second] } });
    expect((await h.callers[3]!.call('work', { params: { copyId } })).status).toBe(404);
    const { body: trail } = await h.teacher.call('trail', { params: { copyId } });
    expect(trail.writers).toHaveLength(2);
    expect(trail.trail.lines.map((l: Loose) => l.by)).toEqual([0, 1]);
    expect((await h.callers[2]!.handIn(copyId)).status).toBe(200);
    expect((await h.callers[0]!.call('work', { params: { copyId } })).body.row.place).toBe('in');
    const { body: pile } = await h.teacher.call('pile', { params: h.params });
    expect(pile.rows).toHaveLength(2);
    expect(d).toBeDefined();
  });

  test('one grade for all, another for one: each reads their own and nobody else’s', async () => {
    const h = await drafted();
    const [a, b, c] = h.people;
    await h.together({ most: 3, chosenUntil: null, groups: [[a, b, c]] });
    const [copyId] = await h.out();
    const params = { copyId: copyId! };
    await h.callers[0]!.call('sendCopyChanges', { params, body: { changes: [write('All of us')] } });
    await h.callers[0]!.handIn(copyId!);
    const { body: desk } = await h.teacher.call('desk', { params });
    expect(desk.scoring.members.map((m: Loose) => m.id).sort()).toEqual([a, b, c].sort());
    const send = (changes: unknown[]) =>
      h.teacher.call('sendChanges', { params: { handInId: desk.handIn.id }, body: { changes } });
    const own = { id: id(), base: null, type: 'write', field: 'own', was: null };
    const over = await send([{ ...own, value: { [b!]: 5000 } }]);
    expect(over.body.results[0]).toMatchObject({ outcome: 'refused', reason: 'above-most' });
    expect((await send([grade(800), { ...own, id: id(), value: { [b!]: 600 } }, done(true)])).status).toBe(
      200,
    );
    await h.teacher.call('handBack', {
      params: h.params,
      body: { copyIds: [copyId] },
    });
    const reads = async (n: number) => (await h.callers[n]!.call('work', { params })).body.handBack;
    const [ada, ben, cyd] = [await reads(0), await reads(1), await reads(2)];
    expect([ada.snapshot.grade, ben.snapshot.grade, cyd.snapshot.grade]).toEqual([800, 600, 800]);
    for (const back of [ada, ben, cyd]) expect(back.snapshot.own).toBeUndefined();
    expect(JSON.stringify(ada)).not.toContain('600');
  });

  test('nobody of another class is put into a group, none is larger than it may be, and a student stands in one only', async () => {
    const h = await drafted();
    const other = await smallClass(running, ['eve']);
    const [a, b, c] = h.people;
    const code = async (t: object) => (await h.together(t)).body.error?.code;
    expect(await code({ most: 3, chosenUntil: null, groups: [[a, other.students[0]!.id]] })).toBe(
      'not-your-student',
    );
    expect(await code({ most: 2, chosenUntil: null, groups: [[a, b, c]] })).toBe('group-full');
    expect(await code({ most: 3, chosenUntil: null, groups: [[a], [a]] })).toBe('bad-input');
  });

  test('a student is moved to another group, and to a copy of their own; work that lies on a copy always keeps somebody', async () => {
    const h = await drafted();
    const [a, b, c, d] = h.people;
    await h.together({ most: 3, chosenUntil: null, groups: [[a, b], [c]] });
    const [shared, , cyd, dee] = await h.out();
    const move = (personId: string, to: string | null) =>
      h.teacher.call('moveMember', { params: h.params, body: { personId, to } });
    expect((await move(b!, cyd!)).status).toBe(200);
    expect((await h.callers[1]!.call('work', { params: { copyId: shared! } })).status).toBe(404);
    expect((await h.callers[1]!.call('work', { params: { copyId: cyd! } })).status).toBe(200);
    // Ada is alone with what she wrote: she stays, or others come to her.
    await h.callers[0]!.call('sendCopyChanges', {
      params: { copyId: shared! },
      body: { changes: [write('mine')] },
    });
    expect((await move(a!, dee!)).body.error.code).toBe('work-there');
    expect((await move(d!, shared!)).status).toBe(200);
    // Dee’s own copy was empty, and is gone.
    expect((await h.teacher.call('pile', { params: h.params })).body.rows).toHaveLength(2);
    expect((await move(a!, null)).status).toBe(200);
    const left = await copyIdOf(h.callers[0]!, h.params.assignmentId);
    expect(left).not.toBe(shared);
    expect((await h.callers[0]!.call('work', { params: { copyId: left } })).body.state.answers).toEqual([]);
    expect(
      (await h.callers[3]!.call('work', { params: { copyId: shared! } })).body.state.answers[0].value,
    ).toBe('mine');
    expect((await move(b!, id())).status).toBe(404);
  });
});

describe('groups that students choose', () => {
  test('until the date they join one another, never more than may; afterwards it is as it is', async () => {
    const h = await drafted();
    const until = clock + 3_600_000;
    await h.together({ most: 2, chosenUntil: until, groups: [] });
    const [ada, ben, cyd] = await h.out();
    const join = (n: number, from: string, to: string | null) =>
      h.callers[n]!.call('joinGroup', { params: { copyId: from }, body: { to } });
    const { body: choice } = await h.callers[0]!.call('groupsToChoose', { params: { copyId: ada! } });
    expect(choice.groups).toHaveLength(4);
    expect((await join(1, ben!, ada!)).body).toEqual({ copyId: ada });
    expect((await join(2, cyd!, ada!)).body.error.code).toBe('group-full');
    // Nobody joins by a copy that is not theirs.
    expect((await join(2, ada!, ben!)).status).toBe(404);
    expect((await join(1, ada!, null)).status).toBe(200);
    const again = await copyIdOf(h.callers[1]!, h.params.assignmentId);
    clock = until + 1;
    expect((await join(1, again, ada!)).body.error.code).toBe('groups-closed');
    expect((await h.callers[0]!.call('groupsToChoose', { params: { copyId: ada! } })).body.groups).toEqual(
      [],
    );
  });

  test('two who join the last place at once: one is in, the other is told', async () => {
    const h = await drafted();
    await h.together({ most: 2, chosenUntil: clock + 3_600_000, groups: [] });
    const [ada, ben, cyd] = await h.out();
    const replies = await Promise.all([
      h.callers[1]!.call('joinGroup', { params: { copyId: ben! }, body: { to: ada } }),
      h.callers[2]!.call('joinGroup', { params: { copyId: cyd! }, body: { to: ada } }),
    ]);
    expect(replies.map((r) => r.body.error?.code ?? 'in').sort()).toEqual(['group-full', 'in']);
  });
});

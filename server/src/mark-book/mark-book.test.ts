import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { setAssignment } from '../assignment/set.ts';
import type { Running } from '../serve.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';
import { done, grade } from '../testing/marks.ts';
import { plainPdf } from '../testing/pdfs.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 2 }, { now: () => clock });
});
afterAll(() => running.stop());

async function book() {
  const s = await smallClass(running, ['ada', 'ben', 'cyd']);
  const teacher = await new Caller(running.address).signIn(s.teacher.login);
  const set = async (title: string, dueAt: number | null, category = 'homework') =>
    setAssignment(running.house, {
      classId: s.classId,
      title,
      instructions: '',
      dueAt,
      most: 1000,
      category,
    });
  const read = async () => (await teacher.call('markBook', { params: { classId: s.classId } })).body as Loose;
  const cell = (b: Loose, n: number, assignmentId: string) =>
    b.cells.find((c: Loose) => c.personId === s.students[n]!.id && c.assignmentId === assignmentId);
  return { ...s, teacher, set, read, cell };
}

describe('the mark book of a class', () => {
  test('every student and every piece of work that is out, in the order of their dates; drafts and what is archived are not in it', async () => {
    const h = await book();
    const later = await h.set('Later', clock + 9_000_000);
    const sooner = await h.set('Sooner', clock + 1_000_000, 'test');
    await h.teacher.call('startAssignment', { params: { classId: h.classId } });
    const gone = await h.set('Gone', clock + 2_000_000);
    await h.teacher.call('putAway', { params: { assignmentId: gone.id }, body: { away: true } });
    const b = await h.read();
    // What every small class has, without a date.
    expect(b.columns.map((c: Loose) => [c.title, c.category])).toEqual([
      ['Map work', ''],
      ['Sooner', 'test'],
      ['Later', 'homework'],
    ]);
    expect(b.students).toHaveLength(3);
    expect(b.cells).toHaveLength(9);
    expect(h.cell(b, 0, later.id)).toMatchObject({ place: 'with-student', grade: null, missing: false });
    clock += 5_000_000;
    expect(h.cell(await h.read(), 0, sooner.id).missing).toBe(true);
    expect(h.cell(await h.read(), 0, later.id).missing).toBe(false);
  });

  test('a grade is held until it goes back; excused and late are told', async () => {
    const h = await book();
    const work = await h.set('Map', clock + 1_000_000);
    const params = { assignmentId: work.id };
    await h.teacher.call('studentTerms', {
      params: { ...params, personId: h.students[2]!.id },
      body: { excused: true, dueAt: null },
    });
    const ada = await new Caller(running.address).signIn(h.students[0]!.login);
    const copyId = work.copies.get(h.students[0]!.id)!;
    await ada.upload(copyId, await plainPdf(), 'map.pdf');
    clock += 2_000_000;
    const { body } = await ada.handIn(copyId);
    const handInId = body.handIn.id;
    await h.teacher.call('sendChanges', {
      params: { handInId },
      body: { changes: [grade(850), done(true)] },
    });
    const held = h.cell(await h.read(), 0, work.id);
    expect(held).toMatchObject({ place: 'marked', grade: 850, held: true, late: true, handInId });
    await h.teacher.call('handBack', { params, body: { copyIds: [copyId] } });
    expect(h.cell(await h.read(), 0, work.id)).toMatchObject({
      place: 'handed-back',
      grade: 850,
      held: false,
    });
    expect(h.cell(await h.read(), 2, work.id)).toMatchObject({ excused: true, missing: false });
  });

  test('what is marked blind tells no grade here, until it goes back', async () => {
    const h = await book();
    const work = await h.set('Blind', null);
    const ada = await new Caller(running.address).signIn(h.students[0]!.login);
    const copyId = work.copies.get(h.students[0]!.id)!;
    await ada.upload(copyId, await plainPdf(), 'map.pdf');
    const { body } = await ada.handIn(copyId);
    await h.teacher.call('setBlind', { params: { assignmentId: work.id }, body: { blind: true } });
    await h.teacher.call('sendChanges', {
      params: { handInId: body.handIn.id },
      body: { changes: [grade(850), done(true)] },
    });
    expect(h.cell(await h.read(), 0, work.id)).toMatchObject({ copyId: null, grade: null, handInId: null });
    await h.teacher.call('handBack', { params: { assignmentId: work.id }, body: { copyIds: [copyId] } });
    expect(h.cell(await h.read(), 0, work.id)).toMatchObject({ copyId, grade: 850 });
  });

  test('the rule is kept with the class; who does not teach it reads nothing', async () => {
    const h = await book();
    const rule = {
      weights: [{ category: 'test', weight: 3 }],
      within: 'each',
      missing: 'zero',
      terms: [{ name: 'Autumn', from: 1, to: 2 }],
    };
    const params = { classId: h.classId };
    expect((await h.teacher.call('saveBookRule', { params, body: { rule } })).status).toBe(200);
    expect((await h.read()).rule).toEqual(rule);
    const twice = { ...rule, weights: [...rule.weights, ...rule.weights] };
    expect((await h.teacher.call('saveBookRule', { params, body: { rule: twice } })).status).toBe(400);
    const other = await smallClass(running);
    for (const login of [other.teacher.login, h.students[0]!.login]) {
      const who = await new Caller(running.address).signIn(login);
      expect([403, 404]).toContain((await who.call('markBook', { params })).status);
    }
  });
});

describe('grades that another register holds', () => {
  test('make work that is not here, fill what is open, and leave what stands; twice changes nothing', async () => {
    const h = await book();
    const work = (title: string, grades: [n: number, grade: number][], most = 1000) => ({
      title,
      category: 'test',
      most,
      dueAt: clock,
      grades: grades.map(([n, grade]) => ({ personId: h.students[n]!.id, grade })),
    });
    const bring = (...works: object[]) =>
      h.teacher.call('bringGrades', { params: { classId: h.classId }, body: { works } });
    const both = [
      work(
        'Tides',
        [
          [0, 700],
          [1, 950],
        ],
        1000,
      ),
      work('Map work', [[0, 500]]),
    ];
    expect((await bring(...both)).body).toEqual({ works: 1, grades: 3, kept: 0 });
    const b = await h.read();
    const tides = b.columns.find((c: Loose) => c.title === 'Tides');
    expect(tides).toMatchObject({ category: 'test', most: 1000 });
    expect([0, 1, 2].map((n) => h.cell(b, n, tides.id).grade)).toEqual([700, 950, null]);
    expect(h.cell(b, 0, tides.id).held).toBe(true);
    expect((await bring(...both)).body).toEqual({ works: 0, grades: 0, kept: 3 });
    // Out of another sum it is not the same work.
    expect((await bring(work('Tides', [[2, 3]], 500))).body.error).toMatchObject({
      code: 'work-differs',
      facts: { title: 'Tides', most: 10 },
    });
    // Somebody who is not in the class has nothing here.
    const other = await smallClass(running, ['dan']);
    const theirs = { ...work('Tides', []), grades: [{ personId: other.students[0]!.id, grade: 100 }] };
    expect((await bring(theirs)).body).toEqual({ works: 0, grades: 0, kept: 1 });
    const stranger = await new Caller(running.address).signIn(other.teacher.login);
    expect(
      (await stranger.call('bringGrades', { params: { classId: h.classId }, body: { works: both } })).status,
    ).toBe(404);
  });
});

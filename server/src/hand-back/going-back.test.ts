import { type HandBackHow, type NoteMark, PLAIN_HAND_BACK } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { newId } from '../house.ts';
import { tellByTheClock } from '../news/due.ts';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, type Loose, testServer } from '../testing/house.ts';
import { closing, done, grade, note, put } from '../testing/marks.ts';

let running: Running;
/** How far the server's clock is ahead. */
let ahead = 0;
beforeAll(async () => {
  running = await testServer({}, { now: () => Date.now() + ahead });
});
afterAll(() => running.stop());

const newChange = () => newId(running.house);

type Handed = Awaited<ReturnType<typeof handedIn>>;
const how = (over: Partial<HandBackHow> = {}): HandBackHow => ({ ...PLAIN_HAND_BACK, ...over });
const pile = (h: Handed) => ({ assignmentId: h.assignmentId });
const handBack = (h: Handed, over: Partial<HandBackHow> = {}, at: number | null = null) =>
  h.teacherCaller.call('handBack', { params: pile(h), body: { copyIds: [h.copyId], how: how(over), at } });
const workOf = async (h: Handed): Promise<Loose> =>
  (await h.student.call('work', { params: { copyId: h.copyId } })).body;
const rowOf = async (h: Handed): Promise<Loose> =>
  (await h.teacherCaller.call('pile', { params: pile(h) })).body.rows.find(
    (r: Loose) => r.copyId === h.copyId,
  );
const newsOf = async (caller: Caller): Promise<Loose[]> => (await caller.call('news', {})).body.notices;
const recall = (h: Handed, over: object = {}) =>
  h.teacherCaller.call('recall', {
    params: pile(h),
    body: { copyIds: [h.copyId], tell: true, words: '', ...over },
  });

/** Waits for what a job does: asked again until it holds. */
async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 200; i++) {
    if (await holds()) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('it never came');
}

describe('unfinished', () => {
  test('gives words without a number, is marked on, and goes back finished as the second', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'Count again', { points: 100 } as Partial<NoteMark>);
    await h.send(put(mark), grade(700), closing('On the way.'));
    expect((await handBack(h, { unfinished: true })).body.handedBack).toEqual([h.copyId]);
    const first = await workOf(h);
    expect(first.row).toMatchObject({ place: 'in', unfinished: true });
    expect(first.handBack).toMatchObject({
      number: 1,
      snapshot: { unfinished: true, grade: null, closing: 'On the way.' },
    });
    expect(JSON.stringify(first)).not.toMatch(/"(points|grade|computed)":\d/);
    expect(await rowOf(h)).toMatchObject({ place: 'being-marked', back: { number: 1, unfinished: true } });
    // Its student cannot hand in again yet; the marking goes on.
    expect((await h.student.handIn(h.copyId)).body.error.code).toBe('already-handed-in');
    expect(
      (await h.send(grade(800, (await rowOf(h)).gradeVersion), done(true))).results.map((r) => r.outcome),
    ).toEqual(['applied', 'applied']);
    expect((await handBack(h)).body.handedBack).toEqual([h.copyId]);
    const second = await workOf(h);
    expect(second.row).toMatchObject({ place: 'handed-back', unfinished: false });
    expect(second.handBack).toMatchObject({
      number: 2,
      snapshot: { grade: 800, since: { grade: { from: null, to: 800 } } },
    });
    expect((await newsOf(h.student)).map((n) => n.kind).slice(0, 2)).toEqual(['handed-back', 'unfinished']);
  });
});

describe('at a set time', () => {
  test('nothing is seen before; then it goes by itself, also when no server ran at the time', async () => {
    const h = await handedIn(running);
    await h.send(done(true), grade(500));
    const at = Date.now() + ahead + 3_600_000;
    const { body } = await handBack(h, { sentence: 'Look at question 2.' }, at);
    expect(body).toMatchObject({ handedBack: [], kept: [] });
    expect((await workOf(h)).handBack).toBeNull();
    expect((await h.teacherCaller.call('pile', { params: pile(h) })).body.orders).toMatchObject([
      { id: body.order, at, copyIds: [h.copyId] },
    ]);
    // Marked on until then: what stands at the time is what goes.
    await h.send(grade(600, (await rowOf(h)).gradeVersion));
    ahead += 5 * 3_600_000;
    running.runner.nudge();
    await until(async () => (await workOf(h)).handBack !== null);
    expect((await workOf(h)).handBack.snapshot.grade).toBe(600);
    expect((await newsOf(h.student))[0]).toMatchObject({ kind: 'handed-back', words: 'Look at question 2.' });
    expect((await newsOf(h.teacherCaller))[0]).toMatchObject({ kind: 'set-time', count: 1 });
    expect((await h.teacherCaller.call('pile', { params: pile(h) })).body.orders).toEqual([]);
  });

  test('one copy in ten seconds: undone in time nobody saw anything, and too late is said', async () => {
    const h = await handedIn(running);
    await h.send(done(true));
    const soon = async () =>
      (await h.teacherCaller.call('handBackSoon', { params: pile(h), body: { copyId: h.copyId } })).body;
    const first = await soon();
    expect(await h.teacherCaller.call('undoHandBack', { params: { orderId: first.order } })).toMatchObject({
      status: 200,
    });
    const second = await soon();
    expect((await workOf(h)).handBack).toBeNull();
    ahead += 11_000;
    running.runner.nudge();
    await until(async () => (await workOf(h)).handBack !== null);
    expect(
      (await h.teacherCaller.call('undoHandBack', { params: { orderId: second.order } })).body.error.code,
    ).toBe('went-back');
    const [{ n }] = await running.house.db.query('SELECT COUNT(*) AS n FROM hand_back WHERE copy_id = ?', [
      h.copyId,
    ]);
    expect(Number(n)).toBe(1);
    // Who did it just now need not be told.
    expect((await newsOf(h.teacherCaller)).map((x) => x.kind)).not.toContain('set-time');
  });

  test('that fails is said to have failed, and can be dismissed', async () => {
    const h = await handedIn(running);
    await h.send(done(true));
    const { body } = await handBack(h, {}, Date.now() + ahead + 3_600_000);
    const orders = async () => (await h.teacherCaller.call('pile', { params: pile(h) })).body.orders;
    expect(await orders()).toMatchObject([{ id: body.order, failed: false }]);
    await running.house.db.query(`UPDATE job SET state = 'failed' WHERE subject = ?`, [body.order]);
    expect(await orders()).toMatchObject([{ id: body.order, failed: true }]);
    await h.teacherCaller.call('undoHandBack', { params: { orderId: body.order } });
    expect(await orders()).toEqual([]);
    expect((await rowOf(h)).place).toBe('marked');
  });

  test('who no longer teaches the class hands nothing back: it stays marked, and waits no longer', async () => {
    const h = await handedIn(running);
    await h.send(done(true));
    const { body } = await handBack(h, {}, Date.now() + ahead + 3_600_000);
    await running.house.db.query(
      `UPDATE membership SET left_at = NOW(3) WHERE class_id = ? AND role = 'teacher'`,
      [h.classId],
    );
    ahead += 2 * 3_600_000;
    running.runner.nudge();
    const stateOf = async () =>
      (await running.house.db.query('SELECT state FROM hand_back_order WHERE id = ?', [body.order]))[0].state;
    await until(async () => (await stateOf()) !== 'waits');
    expect(await stateOf()).toBe('undone');
    expect((await workOf(h)).handBack).toBeNull();
  });
});

describe('taking back in', () => {
  test('nothing of it is found any more, what was seen stays on record, and the next says what changed', async () => {
    const h = await handedIn(running);
    const mark = note(h.documentId, 'Count again') as NoteMark;
    const first = put(mark);
    await h.send(first, grade(700), closing('Fine.'), done(true));
    await handBack(h);
    const { handBack: back } = await workOf(h);
    await h.student.call('opened', { params: { handBackId: back.id }, body: { marks: [mark.id] } });
    expect(await rowOf(h)).toMatchObject({ back: { notes: 1, opened: 1 } });
    expect((await rowOf(h)).back.seenAt).not.toBeNull();

    expect((await recall(h, { words: 'One moment.' })).body).toEqual({ recalled: [h.copyId], kept: [] });
    const gone = await workOf(h);
    expect(gone).toMatchObject({ handBack: null, recalled: { words: 'One moment.' }, row: { place: 'in' } });
    expect(JSON.stringify(gone)).not.toContain('Count again');
    // Old requests are answered with nothing.
    const of = { params: { handBackId: back.id } };
    for (const old of [
      await h.student.call('makePdf', of),
      await h.student.call('pdfFile', of),
      await h.student.call('opened', { ...of, body: { marks: [] } }),
    ])
      expect(old.status).toBe(404);
    expect(await rowOf(h)).toMatchObject({ place: 'marked', back: null, recalledAt: expect.any(Number) });
    expect((await newsOf(h.student))[0]).toMatchObject({ kind: 'recalled', words: 'One moment.' });

    await h.send(
      put({ ...mark, words: 'Count the squares' }, mark, first.id),
      grade(750, (await rowOf(h)).gradeVersion),
    );
    // The preview says it too.
    const preview = await h.teacherCaller.call('asStudent', {
      params: { copyId: h.copyId },
      body: { how: how() },
    });
    await handBack(h);
    expect(preview.body).toMatchObject({ number: 2, snapshot: (await workOf(h)).handBack.snapshot });
    expect((await workOf(h)).handBack).toMatchObject({
      number: 2,
      snapshot: {
        since: { changed: [mark.id], came: [], went: 0, grade: { from: 700, to: 750 }, closing: false },
      },
    });
    const [{ seen }] = await running.house.db.query(
      'SELECT seen_at AS seen FROM recalled_hand_back WHERE copy_id = ?',
      [h.copyId],
    );
    expect(seen).not.toBeNull();
  });

  test('a copy that was handed in again stays, and recalling against handing in is one or the other', async () => {
    const h = await handedIn(running);
    await h.send(done(true));
    await handBack(h);
    const [taken, again] = await Promise.all([recall(h), h.student.handIn(h.copyId)]);
    expect([taken.status, again.status].sort()).toEqual([200, 409]);
    const work = await workOf(h);
    expect(work.row.place).toBe(taken.status === 200 ? 'in' : 'in-again');
    // What was never seen is not compared with.
    if (taken.status === 200) {
      await handBack(h);
      expect((await workOf(h)).handBack.snapshot.since).toBeUndefined();
    }
  });

  test('changed after it went back without taking it in: the student keeps the first until the second', async () => {
    const h = await handedIn(running);
    await h.send(grade(500), done(true));
    await handBack(h);
    expect((await h.send(grade(550))).results[0]!.outcome).not.toBe('applied');
    await h.teacherCaller.call('changeAgain', { params: { copyId: h.copyId } });
    expect(await rowOf(h)).toMatchObject({ place: 'marked' });
    await h.send(grade(900, (await rowOf(h)).gradeVersion));
    expect((await workOf(h)).handBack).toMatchObject({ number: 1, snapshot: { grade: 500 } });
    await handBack(h);
    expect((await workOf(h)).handBack).toMatchObject({ number: 2, snapshot: { grade: 900 } });
    expect((await h.send(grade(100))).results[0]!.outcome).not.toBe('applied');
  });
});

describe('what the student gets', () => {
  test('before it goes the teacher sees exactly that, made by the same code', async () => {
    const h = await handedIn(running);
    await h.send(put(note(h.documentId, 'Why?')), grade(700), closing('Good.'), done(true));
    const over = { reflect: 'What first next time?' };
    const before = await h.teacherCaller.call('asStudent', {
      params: { copyId: h.copyId },
      body: { how: how(over) },
    });
    expect((await workOf(h)).handBack).toBeNull();
    await handBack(h, over);
    const { handBack: after } = await workOf(h);
    expect(before.body.snapshot).toEqual(after.snapshot);
    expect(before.body.documents).toEqual(after.documents);
    expect(after.snapshot.reflect).toBe('What first next time?');
  });

  test('a grade after reading is not sent before all notes were opened, however it is asked for', async () => {
    const h = await handedIn(running);
    const [one, two] = [note(h.documentId, 'One'), note(h.documentId, 'Two')];
    await h.send(put(one), put(two), grade(870), done(true));
    await handBack(h, { gradeAfter: true });
    const closed = await workOf(h);
    expect(closed.handBack).toMatchObject({ closed: 2, snapshot: { grade: null } });
    expect(
      JSON.stringify([closed, await newsOf(h.student), (await h.student.call('workList')).body]),
    ).not.toMatch(/[:"]870[,"}\]]|8\.7\b/);
    const open = (marks: string[]) =>
      h.student.call('opened', { params: { handBackId: closed.handBack.id }, body: { marks } });
    expect((await open([one.id])).body).toEqual({ closed: 1 });
    expect((await workOf(h)).handBack).toMatchObject({ closed: 1, snapshot: { grade: null } });
    expect((await open([one.id, two.id])).body).toEqual({ closed: 0 });
    expect((await workOf(h)).handBack).toMatchObject({ closed: 0, snapshot: { grade: 870 } });
  });

  test('words for all lie with each copy, and nobody is told where nobody should be', async () => {
    const h = await handedIn(running);
    await h.send(done(true));
    const before = (await newsOf(h.student)).length;
    await handBack(h, { tell: false, cover: 'Well done, all of you.' });
    const { body } = await h.student.call('messages', { params: { copyId: h.copyId } });
    expect(body.messages).toMatchObject([{ words: 'Well done, all of you.', cover: true }]);
    expect((await newsOf(h.student)).length).toBe(before);
  });

  test('the check names what one may want to look at', async () => {
    const h = await handedIn(running, ['ada', 'ben']);
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    await handInFor(ben, h.teacherCaller, h.copyOf(1));
    await h.student.call('say', {
      params: { copyId: h.copyId },
      body: { id: '01a21263-aab7-77a6-ad1f-cbff6ce69f01', words: 'I was ill.' },
    });
    await h.send(done(true));
    const { body } = await h.teacherCaller.call('checkHandBack', {
      params: pile(h),
      body: { copyIds: [h.copyOf(0), h.copyOf(1)] },
    });
    expect(body.find((c: Loose) => c.copyId === h.copyOf(0)).warnings.sort()).toEqual([
      'no-closing-words',
      'no-grade',
      'unread-message',
    ]);
    expect(body.find((c: Loose) => c.copyId === h.copyOf(1)).warnings).toEqual(['unmarked']);
  });
});

describe('news and letters', () => {
  test('a letter is written in the same transaction, goes once, and never holds the grade', async () => {
    const h = await handedIn(running);
    await h.send(grade(870), closing('Good.'), done(true));
    await handBack(h, { sentence: 'Look at question 2.' });
    const mine = async () =>
      (await h.teacherCaller.call('mails', {})).body.mails.filter((m: Loose) =>
        m.to.startsWith(h.students[0]!.given),
      );
    await until(async () =>
      (await mine()).some((m: Loose) => m.sentAt !== null && m.subject.includes('is back')),
    );
    const letters = (await mine()).filter((m: Loose) => m.subject.includes('is back'));
    expect(letters).toHaveLength(1);
    expect(letters[0].body).toContain('Look at question 2.');
    // Its student gets the address of the very copy; a teacher who reads it does not learn whose copy is whose.
    expect(letters[0].body).toContain('http://jotmark.test/work/…');
    const [{ body: sent }] = await running.house.db.query('SELECT body FROM mail WHERE id = ?', [
      letters[0].id,
    ]);
    expect(sent).toContain(`http://jotmark.test/work/${h.copyId}`);
    expect(JSON.stringify(letters)).not.toMatch(/870|8\.7|8,7/);
    const file = await h.teacherCaller.raw('GET', `/api/mails/${letters[0].id}/file`);
    expect(await file.text()).toMatch(/^From: .*\r\nTo: /);
  });

  test('what one chose not to hear of is neither shown nor written', async () => {
    const h = await handedIn(running);
    await h.student.call('chooseNews', { body: { 'handed-back': { news: false, mail: 'none' } } });
    const before = await newsOf(h.student);
    await h.send(done(true));
    await handBack(h);
    expect(await newsOf(h.student)).toEqual(before);
    expect((await workOf(h)).handBack).not.toBeNull();
  });

  test('handed in, answered, written: the teacher hears of each, under a code while the pile is blind', async () => {
    const h = await handedIn(running);
    expect(await newsOf(h.teacherCaller)).toMatchObject([
      { kind: 'handed-in', copyId: h.copyId, read: true },
    ]);
    await h.teacherCaller.call('setBlind', { params: pile(h), body: { blind: true } });
    await h.student.call('say', {
      params: { copyId: h.copyId },
      body: { id: '01a21263-aab7-77a6-ad1f-cbff6ce69f02', words: 'It is late, sorry.' },
    });
    const [newest] = await newsOf(h.teacherCaller);
    expect(newest).toMatchObject({ kind: 'message', words: 'It is late, sorry.', read: false });
    expect(newest.who).not.toContain('ada');
    await h.teacherCaller.call('readMessages', {
      params: { copyId: h.copyId },
      body: { at: Date.now() + ahead },
    });
    expect((await newsOf(h.teacherCaller))[0].read).toBe(true);
  });

  test('new work, and what is due tomorrow, are told once to each student, in the afternoon before', async () => {
    const day = 24 * 3_600_000;
    const back = ahead;
    // Midnight of the day after tomorrow, by the school's clock, which is UTC here.
    const midnight = Math.ceil((Date.now() + ahead) / day) * day + day;
    const h = await handedIn(running, ['ada', 'ben'], midnight + day + 9 * 3_600_000);
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const told = async (caller: Caller, kind: string) =>
      (await newsOf(caller)).filter((n) => n.kind === kind && n.copyId !== null).length;
    const at = async (moment: number) => {
      ahead = moment - Date.now();
      // From several servers at once.
      await Promise.all([tellByTheClock(running.house), tellByTheClock(running.house)]);
      await tellByTheClock(running.house);
    };
    await tellByTheClock(running.house);
    await Promise.all([tellByTheClock(running.house), tellByTheClock(running.house)]);
    expect(await told(ben, 'set')).toBe(1);
    await at(midnight - day + 16 * 3_600_000);
    expect(await told(ben, 'due-tomorrow'), 'two days before').toBe(0);
    await at(midnight + 14 * 3_600_000);
    expect(await told(ben, 'due-tomorrow'), 'the morning before').toBe(0);
    await at(midnight + 15 * 3_600_000 + 60_000);
    expect(await told(ben, 'due-tomorrow'), 'the afternoon before').toBe(1);
    // Who has handed in is not reminded.
    expect(await told(h.student, 'due-tomorrow')).toBe(0);
    ahead = back;
  });

  test('a pile that was marked and forgotten is told once a week, and not once it has a time', async () => {
    const h = await handedIn(running);
    await h.send(done(true));
    const forgotten = async () => (await newsOf(h.teacherCaller)).filter((n) => n.kind === 'forgotten');
    const back = ahead;
    await tellByTheClock(running.house);
    expect(await forgotten()).toEqual([]);
    ahead += 4 * 24 * 3_600_000;
    await tellByTheClock(running.house);
    await tellByTheClock(running.house);
    expect(await forgotten()).toMatchObject([{ assignmentId: h.assignmentId, count: 1, copyId: null }]);
    await handBack(h, {}, Date.now() + ahead + 20 * 24 * 3_600_000);
    ahead += 8 * 24 * 3_600_000;
    await tellByTheClock(running.house);
    expect(await forgotten()).toHaveLength(1);
    ahead = back;
  });
});

describe('messages', () => {
  const say = (caller: Caller, h: Handed, id: string, words: string) =>
    caller.call('say', { params: { copyId: h.copyId }, body: { id, words } });

  test('unread ones vanish, read ones say withdrawn; only their author may', async () => {
    const h = await handedIn(running);
    const [a, b] = ['01a21263-aab7-77a6-ad1f-cbff6ce69f03', '01a21263-aab7-77a6-ad1f-cbff6ce69f04'];
    await say(h.student, h, a, 'First.');
    const of = (messageId: string) => ({ params: { copyId: h.copyId, messageId } });
    expect((await h.teacherCaller.call('withdrawMessage', of(a))).body.error.code).toBe('not-your-message');
    expect(await newsOf(h.teacherCaller)).toMatchObject([{ words: 'First.' }, { kind: 'handed-in' }]);
    expect((await h.student.call('withdrawMessage', of(a))).body.messages).toEqual([]);
    // Nor is anybody told of it any more.
    expect(await newsOf(h.teacherCaller)).toMatchObject([{ kind: 'handed-in' }]);
    await say(h.student, h, b, 'Second.');
    await h.teacherCaller.call('readMessages', {
      params: { copyId: h.copyId },
      body: { at: Date.now() + ahead + 1000 },
    });
    const edited = await h.student.call('editMessage', { ...of(b), body: { words: 'Second, mended.' } });
    expect(edited.body.messages).toMatchObject([{ words: 'Second, mended.', edited: true }]);
    expect(edited.body.messages[0].seenAt).not.toBeNull();
    expect((await h.student.call('withdrawMessage', of(b))).body.messages).toMatchObject([
      { words: '', withdrawn: true },
    ]);
    expect((await h.student.call('editMessage', { ...of(b), body: { words: 'Again.' } })).status).toBe(404);
    expect(JSON.stringify(await newsOf(h.teacherCaller))).not.toContain('Second');
  });
});

describe('handing in again', () => {
  test('scores begin where they last were, and what was said of each note goes back with the second', async () => {
    const h = await handedIn(running);
    const [one, two] = [note(h.documentId, 'Count again'), note(h.documentId, 'Which line?')];
    await h.send(put(one), put(two), grade(700), done(true));
    await handBack(h);
    expect((await h.student.handIn(h.copyId)).status).toBe(200);
    const desk = (await h.teacherCaller.call('desk', { params: { copyId: h.copyId } })).body;
    expect(desk).toMatchObject({ handIn: { number: 2 }, backs: 0, handedBack: false });
    // The typed grade is none of what it starts from.
    expect(desk.marking.slip.grade.value).toBeNull();
    const beside = (await h.teacherCaller.call('beside', { params: { copyId: h.copyId } })).body;
    expect(beside.earlier).toMatchObject([{ number: 1, grade: 700, changed: [] }]);
    expect(beside.earlier[0].marks).toHaveLength(2);

    const send = (changes: object[]) =>
      h.teacherCaller.call('sendChanges', { params: { handInId: desk.handIn.id }, body: { changes } });
    const write = (field: string, value: unknown, was: unknown) => ({
      id: newChange(),
      base: null,
      type: 'write',
      field,
      value,
      was,
    });
    // The same note once more, on the new hand-in: it keeps its id, and with it what was said about it.
    const again = { ...two, document: desk.documents[0].id };
    const answer = await send([
      write('became', { [one.id]: 'dealt-with' }, null),
      { id: newChange(), base: null, type: 'put', mark: again, was: null },
      write('grade', 900, null),
      write('done', true, false),
    ]);
    expect(answer.body.results.map((r: Loose) => r.outcome)).toEqual(Array(4).fill('applied'));
    await handBack(h);
    expect((await workOf(h)).handBack).toMatchObject({
      handInNumber: 2,
      number: 1,
      snapshot: {
        grade: 900,
        became: [
          { mark: one.id, words: 'Count again', verdict: 'dealt-with' },
          { mark: two.id, words: 'Which line?', verdict: 'again' },
        ],
      },
    });
  });

  test('what was done with a note counts for the hand-in that it came back with: said again, it asks again', async () => {
    const h = await handedIn(running);
    const one = note(h.documentId, 'Count again') as NoteMark;
    const two = note(h.documentId, 'Which line?') as NoteMark;
    await h.send(put(one), put(two), done(true));
    await handBack(h);
    const act = (mark: NoteMark, act: string) =>
      h.student.call('say', {
        params: { copyId: h.copyId },
        body: {
          id: newId(running.house),
          words: '',
          act,
          place: { document: h.documentId, page: 0, x: 10, y: 10, mark: mark.id },
        },
      });
    const firstBackAt = (await workOf(h)).handBack.firstBackAt;
    await act(one, 'sorted');
    expect((await rowOf(h)).back).toMatchObject({ notes: 2, done: 1 });
    // In a file of their own accepting changes nothing yet: their list still asks for it, and so does the pile.
    await act(two, 'accepted');
    expect((await rowOf(h)).back).toMatchObject({ notes: 2, done: 1 });
    await act(two, 'declined');
    expect((await rowOf(h)).back).toMatchObject({ notes: 2, done: 2 });

    // Recalled and back once more it is the same hand-in: what they did stands.
    await recall(h);
    ahead += 60_000;
    await handBack(h);
    expect((await rowOf(h)).recalledAt).toBeNull();
    expect((await rowOf(h)).back).toMatchObject({ notes: 2, done: 2 });
    expect((await workOf(h)).handBack.firstBackAt).toBe(firstBackAt);

    ahead += 60_000;
    await h.student.handIn(h.copyId);
    const desk = (await h.teacherCaller.call('desk', { params: { copyId: h.copyId } })).body;
    expect(desk.firstBackAt).toBeNull();
    await h.teacherCaller.call('sendChanges', {
      params: { handInId: desk.handIn.id },
      body: { changes: [put({ ...one, document: desk.documents[0].id }), done(true)] },
    });
    await handBack(h);
    expect((await rowOf(h)).back).toMatchObject({ notes: 1, done: 0 });
    const { handBack: second } = await workOf(h);
    expect(second.firstBackAt).toBe(second.handedBackAt);
    ahead += 60_000;
    await act(one, 'sorted');
    expect((await rowOf(h)).back).toMatchObject({ notes: 1, done: 1 });
  });
});

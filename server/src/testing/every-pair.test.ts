import type { AssignmentId, CopyId, HandInId, MessageId } from '@jotmark/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { setAssignment } from '../assignment/set.ts';
import {
  HandBackTable,
  HandInTable,
  MarkingTable,
  RecalledTable,
  TakenBackTable,
} from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { Caller, type Loose, smallClass, testServer } from './house.ts';
import { closing, done } from './marks.ts';

/** Rounds that run beside each other, each with a class of its own. */
const BESIDE = 4;
const SECRET = 'Nobody sees this before it is back.';

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

interface Round {
  readonly s: Awaited<ReturnType<typeof smallClass>>;
  readonly teacher: Caller;
  readonly student: Caller;
  readonly assignmentId: AssignmentId;
  readonly copyId: CopyId;
  /** The hand-in that there is, or that would be the first. */
  readonly handInId: HandInId;
}

type Act = (r: Round) => Promise<{ status: number; body: Loose }>;
const marking = (r: Round, ...changes: unknown[]) =>
  r.teacher.call('sendChanges', { params: { handInId: r.handInId }, body: { changes } });
const piled = (r: Round) => ({ params: { assignmentId: r.assignmentId } });
const one = (r: Round) => ({ copyIds: [r.copyId] });

/** What students and teachers do to a copy. */
const ACTS: Readonly<Record<string, Act>> = {
  'hand in': (r) => r.student.handIn(r.copyId),
  'take back': (r) => r.student.call('takeBack', { params: { copyId: r.copyId } }),
  write: (r) => marking(r, closing(SECRET)),
  finish: (r) => marking(r, done(true)),
  'hand back': (r) => r.teacher.call('handBack', { ...piled(r), body: one(r) }),
  'set a time': (r) =>
    r.teacher.call('handBack', { ...piled(r), body: { ...one(r), at: Date.now() + 3_600_000 } }),
  recall: (r) => r.teacher.call('recall', { ...piled(r), body: { ...one(r), tell: true, words: '' } }),
  excuse: (r) =>
    r.teacher.call('studentTerms', {
      params: { assignmentId: r.assignmentId, personId: r.s.students[0]!.id },
      body: { excused: true, dueAt: null },
    }),
  'end taking back': (r) => r.teacher.call('closeTakingBack', piled(r)),
  'put away': (r) => r.teacher.call('putAway', { ...piled(r), body: { away: true } }),
  'remove the student': (r) =>
    r.teacher.call('removeStudent', { params: { classId: r.s.classId, personId: r.s.students[0]!.id } }),
  'say something': (r) =>
    r.student.call('say', {
      params: { copyId: r.copyId },
      body: { id: newId<MessageId>(running.house), words: 'I am not sure.' },
    }),
};

/** Where a copy is when the two come. */
const STATES: Readonly<Record<string, readonly string[]>> = {
  'with the student': [],
  in: ['in'],
  marked: ['in', 'write', 'finish'],
  'set to go back': ['in', 'write', 'finish', 'set a time'],
  back: ['in', 'write', 'finish', 'hand back'],
};

async function begun(s: Round['s'], teacher: Caller, student: Caller, state: string): Promise<Round> {
  const { house } = running;
  const set = await setAssignment(house, {
    ...{ classId: s.classId, title: 'Pair', instructions: '', dueAt: null, most: null, handsIn: false },
  });
  const copyId = set.copies.get(s.students[0]!.id)!;
  const r = { s, teacher, student, assignmentId: set.id, copyId, handInId: newId<HandInId>(house) };
  for (const step of STATES[state]!) {
    const reply = step === 'in' ? await student.handIn(copyId, { id: r.handInId }) : await ACTS[step]!(r);
    expect(reply.status, `${state}: ${step}`).toBe(200);
  }
  return r;
}

/** What must be true of a copy whatever came first. */
async function holds(r: Round, what: string): Promise<void> {
  const db = running.house.db.manager;
  const { copyId } = r;
  const pile = (await r.teacher.call('pile', piled(r))).body as Loose;
  const place = pile?.rows?.find((row: Loose) => row.copyId === copyId)?.place;
  const handIns = await db.getRepository(HandInTable).find({ where: { copyId } });
  const markings = await db.getRepository(MarkingTable).find({ where: { copyId } });
  const backs = await db.getRepository(HandBackTable).find({ where: { copyId } });
  const there = new Set<string | null>(handIns.map((h) => h.id));
  const orphans = [...markings, ...backs].filter((m) => m.handInId !== null && !there.has(m.handInId));
  expect(orphans, `${what}: marked or handed back, and not handed in`).toEqual([]);
  expect(
    handIns.filter((h) => backs.every((b) => b.handInId !== h.id)).length,
    `${what}: hand-ins that wait`,
  ).toBeLessThan(2);
  const taken = await find(db, TakenBackTable, { id: r.handInId });
  if (taken) expect(there.has(r.handInId), `${what}: taken back, and in`).toBe(false);
  if (place !== undefined) {
    expect(place === 'with-student', `${what}: ${place}`).toBe(handIns.length === 0);
    expect(place === 'handed-back' || place === 'in-again', `${what}: ${place}`).toBe(backs.length > 0);
  }
  // What the student is shown, in whatever form, says a word of the marking only when it went back.
  const shown = await Promise.all([
    r.student.call('work', { params: { copyId } }),
    r.student.call('workList'),
    r.student.call('news'),
  ]);
  const recalled = await find(db, RecalledTable, { copyId });
  if (!backs.length) expect(JSON.stringify(shown.map((x) => x.body)), what).not.toContain(SECRET);
  const told = (shown[2].body as Loose).notices.filter(
    (n: Loose) => n.copyId === copyId && n.kind === 'handed-back',
  );
  if (told.length) expect(backs.length > 0 || recalled !== null, `${what}: told of nothing`).toBe(true);
}

test('every pair of acts at the very same moment, wherever the copy is: no error, nothing half done, nothing seen too early', async () => {
  const names = Object.keys(ACTS);
  const pairs = Object.keys(STATES).flatMap((state) =>
    names.flatMap((a, i) => names.slice(i).map((b) => [state, a, b] as const)),
  );
  let next = 0;
  const seen = { both: 0, one: 0, neither: 0 };
  const lane = async () => {
    const s = await smallClass(running, ['ada']);
    const teacher = await new Caller(running.address).signIn(s.teacher.login);
    const student = await new Caller(running.address).signIn(s.students[0]!.login);
    for (let n = next++; n < pairs.length; n = next++) {
      const [state, a, b] = pairs[n]!;
      const what = `${state}: ${a} and ${b}`;
      const r = await begun(s, teacher, student, state);
      const replies = await Promise.all([ACTS[a]!(r), ACTS[b]!(r)]);
      for (const { status, body } of replies)
        expect(status, `${what}: ${JSON.stringify(body)?.slice(0, 200)}`).toBeLessThan(500);
      const good = replies.filter((reply) => reply.status < 300).length;
      seen[good === 2 ? 'both' : good === 1 ? 'one' : 'neither']++;
      await holds(r, what);
      // Who was removed comes back for the next round.
      await teacher.call('returnStudent', { params: { classId: s.classId, personId: s.students[0]!.id } });
    }
  };
  await Promise.all(Array.from({ length: BESIDE }, lane));
  expect(pairs).toHaveLength(5 * 78);
  // The pairs are no empty talk: each outcome was there, often.
  expect(Math.min(seen.both, seen.one)).toBeGreaterThan(40);
}, 300_000);

import type { Change, ChangeId, CopyChange, HandInId, MarkingChange, Question } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addWorksheet } from '../assignment/materials.ts';
import { setAssignment } from '../assignment/set.ts';
import { takeCopyChanges } from '../copy/take-changes.ts';
import { openDatabase } from '../database/connect.ts';
import {
  HandBackTable,
  HandInTable,
  MarkingTable,
  RecalledTable,
  TakenBackTable,
} from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { handBack } from '../hand-back/hand-back.ts';
import { recall } from '../hand-back/recall.ts';
import { handIn } from '../hand-in/hand-in.ts';
import { takeBack } from '../hand-in/take-back.ts';
import { newId } from '../house.ts';
import { takeChanges } from '../marking/take-changes.ts';
import { type Running, serve } from '../serve.ts';
import { Caller, freshDatabase, smallClass, testServer, testSettings } from './house.ts';
import { done, id } from './marks.ts';
import { madeWorksheet, question, worksheetRead } from './worksheets.ts';

/** What was acknowledged is in what is frozen, or was refused: each pair of acts at the very same moment, over and over. */
const ROUNDS = 80;
/** Pairs that run beside each other. */
const BESIDE = 6;

let running: Running;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
});
afterAll(() => running.stop());

const students = Array.from({ length: ROUNDS }, (_, i) => `s${i}`);

async function pile(): Promise<Awaited<ReturnType<typeof smallClass>>> {
  return smallClass(running, students);
}

/** Runs a round for each copy, a few at a time. */
async function rounds(run: (n: number) => Promise<void>): Promise<void> {
  let next = 0;
  const lane = async () => {
    for (let n = next++; n < ROUNDS; n = next++) await run(n);
  };
  await Promise.all(Array.from({ length: BESIDE }, lane));
}

const write = (value: string, base: ChangeId | null, was: string): MarkingChange => ({
  id: id<ChangeId>(),
  base,
  type: 'write',
  field: 'closing',
  value,
  was,
});

/** Sends one change after the other until one is refused; gives the last value that was acknowledged. */
async function until<C extends Change>(
  make: (n: number, base: ChangeId | null) => C,
  send: (change: C) => Promise<{ results: { outcome: string }[] }>,
  most = 12,
): Promise<number> {
  let base: ChangeId | null = null;
  for (let n = 1; n <= most; n++) {
    const change = make(n, base);
    const { results } = await send(change);
    if (results[0]!.outcome !== 'applied') return n - 1;
    base = change.id;
  }
  return most;
}

const codeOf = (error: unknown) => {
  if (error instanceof Fault) return error.code;
  throw error;
};

/** Somewhere in the middle of what goes on beside it. */
const aMoment = (n: number) => new Promise((resolve) => setTimeout(resolve, (n * 7) % 23));

describe('at the very same moment', () => {
  test('typing and handing in: every letter that was acknowledged is in the hand-in', async () => {
    const s = await pile();
    const { house } = running;
    const teacher = await new Caller(running.address).signIn(s.teacher.login);
    const worksheetId = (await madeWorksheet(teacher)) as never;
    const sheet = await worksheetRead(teacher, worksheetId);
    const q: Question = question(0, { kind: 'line' });
    await teacher.call('saveQuestions', {
      params: { worksheetId },
      body: { versionId: sheet.versionId, revision: sheet.revision, questions: [q] },
    });
    const set = await setAssignment(
      house,
      { classId: s.classId, title: 'Race', instructions: '', dueAt: null, most: null },
      (a) => addWorksheet(house, a, worksheetId),
    );
    let cut = 0;
    await rounds(async (n) => {
      const student = s.students[n]!;
      const copyId = set.copies.get(student.id)!;
      const handInId = newId<HandInId>(house);
      const [acknowledged] = await Promise.all([
        until(
          (i, base): CopyChange => ({
            id: id<ChangeId>(),
            base,
            type: 'answer',
            question: q.id,
            value: `letters ${i}`,
            was: i > 1 ? `letters ${i - 1}` : '',
          }),
          (change) => takeCopyChanges(house, copyId, [change]),
        ),
        aMoment(n).then(() => handIn(house, student, copyId, { id: handInId, cover: '', claimedAt: null })),
      ]);
      if (acknowledged < 12) cut++;
      const frozen = await find(house.db.manager, HandInTable, { id: handInId });
      expect(frozen!.content!.sheets[0]!.answers[q.id], `copy ${n}`).toBe(
        acknowledged ? `letters ${acknowledged}` : undefined,
      );
    });
    expect(cut).toBeGreaterThan(ROUNDS / 10);
  }, 120_000);

  test('taking back and marking: only one of them comes first, and no marking is left without its hand-in', async () => {
    const s = await pile();
    const { house } = running;
    const set = await setAssignment(house, {
      classId: s.classId,
      title: 'Race',
      instructions: '',
      dueAt: null,
      most: null,
      handsIn: false,
    });
    const first = { marked: 0, back: 0 };
    await rounds(async (n) => {
      const student = s.students[n]!;
      const copyId = set.copies.get(student.id)!;
      const handInId = newId<HandInId>(house);
      await handIn(house, student, copyId, { id: handInId, cover: '', claimedAt: null });
      const wait = n % 3 ? 0 : 2;
      const [marked, back] = await Promise.all([
        new Promise((r) => setTimeout(r, wait))
          .then(() => takeChanges(house, s.teacher, { handInId }, [write('x', null, '')]))
          .then(() => null, codeOf),
        takeBack(house, copyId).then(() => null, codeOf),
      ]);
      expect([
        [null, 'not-to-take-back'],
        ['taken-back', null],
      ]).toContainEqual([marked, back]);
      first[marked === null ? 'marked' : 'back']++;
      const db = house.db.manager;
      expect((await find(db, MarkingTable, { handInId })) !== null).toBe(marked === null);
      expect((await find(db, TakenBackTable, { id: handInId })) !== null).toBe(back === null);
    });
    expect(Math.min(first.marked, first.back)).toBeGreaterThan(5);
  }, 120_000);

  test('handing back twice hands back once', async () => {
    const s = await smallClass(running, ['ada', 'ben', 'cyd']);
    const { house } = running;
    const copies = [0, 1, 2].map((n) => s.copyOf(n));
    const set = await setAssignment(house, {
      classId: s.classId,
      title: 'Twice',
      instructions: '',
      dueAt: null,
      most: null,
      handsIn: false,
    });
    for (const student of s.students) {
      const handInId = newId<HandInId>(house);
      await handIn(house, student, set.copies.get(student.id)!, { id: handInId, cover: '', claimedAt: null });
      await takeChanges(house, s.teacher, { handInId }, [done(true) as MarkingChange]);
    }
    const ids = [...set.copies.values()];
    const twice = await Promise.allSettled(
      [ids, ids.toReversed()].map((all) => handBack(house, s.teacher, set.id, all)),
    );
    const given = twice.flatMap((r) => (r.status === 'fulfilled' ? r.value.handedBack : []));
    expect([...given].sort()).toEqual([...ids].sort());
    expect(copies).toHaveLength(3);
  });

  test('handing back, a colleague who marks and a student who takes back: what goes back is whole, and nothing is taken back', async () => {
    const s = await pile();
    const { house } = running;
    const set = await setAssignment(house, {
      ...{ classId: s.classId, title: 'Three', instructions: '', dueAt: null, most: null, handsIn: false },
    });
    let cut = 0;
    await rounds(async (n) => {
      const student = s.students[n]!;
      const copyId = set.copies.get(student.id)!;
      const handInId = newId<HandInId>(house);
      await handIn(house, student, copyId, { id: handInId, cover: '', claimedAt: null });
      await takeChanges(house, s.teacher, { handInId }, [done(true) as MarkingChange]);
      const [acknowledged, taken] = await Promise.all([
        until(
          (i, base) => write(`word ${i}`, base, i > 1 ? `word ${i - 1}` : ''),
          (change) => takeChanges(house, s.teacher, { handInId }, [change]),
        ),
        aMoment(n + 1).then(() => takeBack(house, copyId).then(() => null, codeOf)),
        aMoment(n).then(() => handBack(house, s.teacher, set.id, [copyId])),
      ]);
      if (acknowledged < 12) cut++;
      expect(['not-to-take-back', 'not-handed-in']).toContain(taken);
      const back = await find(house.db.manager, HandBackTable, { handInId });
      expect(back!.content.closing).toBe(acknowledged ? `word ${acknowledged}` : '');
      expect(await find(house.db.manager, HandInTable, { id: handInId })).not.toBeNull();
    });
    expect(cut).toBeGreaterThan(ROUNDS / 10);
  }, 120_000);

  test('recalling and handing in again: it is recalled, or it stays and the next hand-in is there', async () => {
    const s = await pile();
    const { house } = running;
    const set = await setAssignment(house, {
      ...{ classId: s.classId, title: 'Recall', instructions: '', dueAt: null, most: null, handsIn: false },
    });
    const first = { recalled: 0, again: 0 };
    await rounds(async (n) => {
      const student = s.students[n]!;
      const copyId = set.copies.get(student.id)!;
      const [one, two] = [newId<HandInId>(house), newId<HandInId>(house)];
      await handIn(house, student, copyId, { id: one, cover: '', claimedAt: null });
      await takeChanges(house, s.teacher, { handInId: one }, [done(true) as MarkingChange]);
      await handBack(house, s.teacher, set.id, [copyId]);
      const wait = (ms: number) => new Promise((r) => setTimeout(r, ms));
      const [recalled, again] = await Promise.all([
        wait(n % 3).then(() =>
          recall(house, s.teacher, set.id, [copyId], { tell: false, words: '' }).then(() => null, codeOf),
        ),
        wait((n + 1) % 3).then(() =>
          handIn(house, student, copyId, { id: two, cover: '', claimedAt: null }).then(() => null, codeOf),
        ),
      ]);
      expect([
        [null, 'already-handed-in'],
        ['nothing-to-recall', null],
      ]).toContainEqual([recalled, again]);
      first[recalled === null ? 'recalled' : 'again']++;
      const db = house.db.manager;
      expect((await find(db, HandBackTable, { handInId: one })) === null).toBe(recalled === null);
      expect((await find(db, RecalledTable, { handInId: one })) !== null).toBe(recalled === null);
      expect((await find(db, HandInTable, { id: two })) !== null).toBe(again === null);
    });
    expect(Math.min(first.recalled, first.again)).toBeGreaterThan(5);
  }, 120_000);
});

/** What a server leaves behind that dies in the middle: its connections are cut, whatever it was doing. */
test('a server that dies while it hands back has handed back all or none, and told of as many', async () => {
  const url = await freshDatabase();
  const mine = await serve(testSettings(url, { workers: 0 }));
  const killer = await openDatabase(url, { migrate: false, connections: 1 });
  const kill = async () => {
    const own: { id: number }[] = await killer.query(
      'SELECT id FROM information_schema.processlist WHERE db = DATABASE() AND id <> CONNECTION_ID() AND info IS NOT NULL',
    );
    for (const { id } of own) await killer.query(`KILL ${Number(id)}`).catch(() => {});
    return own.length;
  };
  const s = await smallClass(
    mine,
    Array.from({ length: 12 }, (_, i) => `k${i}`),
  );
  const seen = { all: 0, none: 0 };
  for (let n = 0; n < 24; n++) {
    const { house } = mine;
    const set = await setAssignment(house, {
      ...{ classId: s.classId, title: `Cut ${n}`, instructions: '', dueAt: null, most: null, handsIn: false },
    });
    for (const student of s.students) {
      const handInId = newId<HandInId>(house);
      await handIn(house, student, set.copies.get(student.id)!, { id: handInId, cover: '', claimedAt: null });
      await takeChanges(house, s.teacher, { handInId }, [
        write('Read.', null, ''),
        done(true) as MarkingChange,
      ]);
    }
    const going = handBack(house, s.teacher, set.id, [...set.copies.values()]).then(
      () => true,
      () => false,
    );
    let cut = 0;
    while (cut === 0 && n % 4 !== 3) {
      await new Promise((r) => setTimeout(r, n % 8));
      cut = await kill();
      if (await Promise.race([going.then(() => true), new Promise((r) => setTimeout(() => r(false), 0))]))
        break;
    }
    const acknowledged = await going;
    const [{ backs }] = await killer.query(
      'SELECT COUNT(*) AS backs FROM hand_back b JOIN copy c ON c.id = b.copy_id WHERE c.assignment_id = ?',
      [set.id],
    );
    const [{ told }] = await killer.query(
      `SELECT COUNT(*) AS told FROM notice WHERE assignment_id = ? AND kind = 'handed-back'`,
      [set.id],
    );
    expect([0, 12]).toContain(Number(backs));
    expect(Number(told)).toBe(Number(backs));
    if (acknowledged) expect(Number(backs)).toBe(12);
    seen[Number(backs) ? 'all' : 'none']++;
  }
  expect(Math.min(seen.all, seen.none)).toBeGreaterThan(3);
  await killer.destroy();
  await mine.stop();
}, 120_000);

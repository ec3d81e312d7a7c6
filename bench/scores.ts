import { createHash, randomBytes } from 'node:crypto';
import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type AssignmentId,
  type CopyId,
  groupAnswers,
  plainScoring,
  type Question,
  type QuestionId,
  scoreOfQuestion,
  trendOf,
} from '@jotmark/core';
import { findingYourWay } from '@jotmark/school';
import {
  addWorksheet,
  addWorksheetFile,
  handOut,
  Opener,
  type Running,
  readWorksheet,
  setAssignment,
  setScoring,
} from '@jotmark/server';
import { launch, signedIn } from './browser.ts';
import { atMost, type Figure, inTurn, median, timed } from './figures.ts';
import { benchClass, id } from './school.ts';

const COPIES = 400;
const QUESTIONS = 6;

/** Scores: grades of a whole pile computed anew, one question across the class, a score typed at the desk, and what core computes. */
export async function scoreFigures(running: Running): Promise<Figure[]> {
  const pile = await scoredPile(running);
  return [await recomputing(running, pile), ...(await inBrowser(running, pile)), ...computed()];
}

interface Pile {
  readonly login: string;
  // biome-ignore lint/suspicious/noExplicitAny: a row as the database gives it
  readonly teacher: any;
  readonly assignmentId: AssignmentId;
  readonly questions: readonly Question[];
}

/** 400 copies handed in with six answers each, all scored; written straight into the tables. */
async function scoredPile(running: Running): Promise<Pile> {
  const { house } = running;
  const { login, classId } = await benchClass(running, 1, 0);
  const [teacher] = await house.db.query('SELECT * FROM person WHERE login = ?', [login]);
  const path = join(await mkdtemp(join(tmpdir(), 'jotmark-bench-')), 'sheet.pdf');
  await writeFile(path, (await findingYourWay()).bytes);
  const opener = new Opener();
  const questions = Array.from(
    { length: QUESTIONS },
    (_, i): Question => ({
      id: id<QuestionId>(),
      page: 0,
      box: [60, 60 + 60 * i, 400, 100 + 60 * i],
      part: false,
      label: null,
      points: 200,
      answer: { kind: 'line' },
    }),
  );
  const sheet = await addWorksheetFile(house, opener, teacher, [{ path, name: 'sheet.pdf' }], questions);
  const version = async () => readWorksheet(house, teacher, sheet);
  while ((await version()).document.reading.state !== 'done') await new Promise((r) => setTimeout(r, 50));
  opener.close();
  const set = await setAssignment(
    house,
    { classId, title: 'Scores', instructions: '', dueAt: null, most: 1200 },
    (a) => addWorksheet(house, a, sheet),
  );
  const at = new Date();
  // One more, whose copy did not come in: it is scored without its pages.
  const students = Array.from({ length: COPIES + 1 }, () => id<never>());
  await house.db.query(
    'INSERT INTO person (id, role, login, given, family, password_hash, created_at) VALUES ?',
    [students.map((s, i) => [s, 'student', s, `B${i}`, `F${s}`, 'x', at])],
  );
  await house.db.query('INSERT INTO membership (class_id, person_id, role) VALUES ?', [
    students.map((s) => [classId, s, 'student']),
  ]);
  const copies = await house.db.transaction((tx) => handOut(house, tx, set.id, students));
  const rows = [...copies.values()].slice(0, COPIES).map((copyId) => ({
    copyId,
    handIn: id<string>(),
    marking: id<string>(),
  }));
  await house.db.query('INSERT INTO hand_in (id, copy_id, number, handed_in_at, late_ms) VALUES ?', [
    rows.map((r) => [r.handIn, r.copyId, 1, at, 0]),
  ]);
  await house.db.query(
    `INSERT INTO marking (id, copy_id, hand_in_id, number, marker_id, begun_at, closing, done) VALUES ?`,
    [rows.map((r) => [r.marking, r.copyId, r.handIn, 1, teacher.id, at, '', 0])],
  );
  const { versionId } = await version();
  await house.db.query(
    'INSERT INTO hand_in_answer (hand_in_id, question_id, version_id, kind, value, digest) VALUES ?',
    [
      rows.flatMap((r, i) =>
        questions.map((q, n) => {
          const value = answer(i, n);
          return [r.handIn, q.id, versionId, 'line', value, createHash('sha256').update(value).digest('hex')];
        }),
      ),
    ],
  );
  await house.db.query('INSERT INTO score (marking_id, subject, version, value) VALUES ?', [
    rows.flatMap((r, i) =>
      questions.map((q, n) => [
        r.marking,
        scoreOfQuestion(q.id),
        id<string>(),
        JSON.stringify({ of: 'question', points: ((i + n) % 5) * 50 }),
      ]),
    ),
  ]);
  return { login, teacher, assignmentId: set.id, questions };
}

const answer = (i: number, n: number): string =>
  i % 3 === 0
    ? `the way along the shore number ${i} for question ${n}`
    : `answer ${(i * 7 + n) % 40} of many`;

/** Every grade of 400 copies computed anew, against reading the bare rows and writing as many. */
async function recomputing(running: Running, { teacher, assignmentId }: Pile): Promise<Figure> {
  const { house } = running;
  let most = 1200;
  const edit = () => {
    most = most === 1200 ? 2400 : 1200;
    return { scoring: plainScoring(true), rubricVersionId: null, most, news: null };
  };
  await setScoring(house, teacher, assignmentId, edit(), true);
  const bare = () =>
    house.db.transaction(async (tx) => {
      const rows: { id: string }[] = await tx.query(
        'SELECT m.id, m.copy_id, m.computed, m.lifted FROM marking m JOIN copy c ON c.id = m.copy_id WHERE c.assignment_id = ?',
        [assignmentId],
      );
      const ids = rows.map((r) => r.id);
      await tx.query('SELECT marking_id, value FROM mark WHERE marking_id IN (?)', [ids]);
      await tx.query('SELECT marking_id, subject, value FROM score WHERE marking_id IN (?)', [ids]);
      const value = Math.floor(Math.random() * 1000);
      await tx.query(
        `UPDATE marking SET computed = CASE id ${ids.map(() => 'WHEN ? THEN ?').join(' ')} END WHERE id IN (?)`,
        [...ids.flatMap((one, i) => [one, value + i]), ids],
      );
    });
  const [ours, baseline, ratio] = await inTurn(
    11,
    () => timed(() => setScoring(house, teacher, assignmentId, edit(), true)),
    () => timed(bare),
  );
  return {
    what: `computing the grades of ${COPIES} copies anew`,
    ours,
    baseline,
    ratio,
    against: 'reading and writing the bare rows',
    limit: 2,
  };
}

/** The view across the class while it is scrolled, and how many frames a typed score takes until its sum is there. */
async function inBrowser(running: Running, pile: Pile): Promise<Figure[]> {
  const browser = await launch();
  const page = await signedIn(browser, running, pile.login);
  await page.goto(`${running.address}/piles/${pile.assignmentId}/across/${pile.questions[0]!.id}`);
  await page.locator('#across-30').waitFor();
  await page.waitForTimeout(1500);
  await page.evaluate(() => {
    const w = window as unknown as { longest: number };
    w.longest = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) w.longest = Math.max(w.longest, entry.duration);
    }).observe({ entryTypes: ['longtask'] });
  });
  await page.mouse.move(700, 500);
  for (let i = 0; i < 40; i++) {
    await page.mouse.wheel(0, 600);
    await page.waitForTimeout(60);
  }
  const longest = await page.evaluate(() => (window as unknown as { longest: number }).longest);
  const [copy] = (await running.house.db.query(
    'SELECT c.id FROM copy c LEFT JOIN hand_in h ON h.copy_id = c.id WHERE c.assignment_id = ? AND h.id IS NULL LIMIT 1',
    [pile.assignmentId],
  )) as { id: CopyId }[];
  await page.goto(`${running.address}/score/${copy!.id}`);
  const frames: number[] = [];
  await page.getByLabel('Points of question 1', { exact: true }).waitFor();
  for (let i = 0; i < 9; i++) {
    await page.getByLabel('Points of question 1', { exact: true }).fill(i % 2 ? '1' : '2');
    frames.push(
      await page.evaluate(async () => {
        const field = document.querySelector<HTMLInputElement>('input[aria-label="Points of question 1"]')!;
        const grade = () => document.querySelector<HTMLInputElement>('input[aria-label="Grade"]')!.value;
        const before = grade();
        field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
        for (let n = 1; n < 60; n++) {
          await new Promise((r) => requestAnimationFrame(r));
          if (grade() !== before) return n;
        }
        return 60;
      }),
    );
  }
  await browser.close();
  return [
    atMost(
      `scrolling one question across ${COPIES} copies, longest task (0: none reached 50 ms)`,
      longest,
      50,
    ),
    atMost('a score typed: frames until its new sum is shown', median(frames), 1, 'frames'),
  ];
}

/** What core computes over a pile. */
function computed(): Figure[] {
  const answers = Array.from({ length: 400 }, (_, i) => answer(i, 0));
  const scores = Array.from(randomBytes(200), (b) => (b % 20) * 50);
  const time = (work: () => unknown): number => {
    const all = Array.from({ length: 9 }, () => {
      const begun = performance.now();
      work();
      return performance.now() - begun;
    });
    return median(all);
  };
  return [
    atMost(
      'grouping 400 answers',
      time(() => groupAnswers(answers, (a) => a)),
      50,
    ),
    atMost(
      'the permutation test of 200 copies',
      time(() => trendOf(scores)),
      50,
    ),
  ];
}

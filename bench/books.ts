import { randomBytes } from 'node:crypto';
import type { ClassId, MarkId, OutGrid, PersonId } from '@jotmark/core';
import { ClassTable, feedbackLog, insert, type Running, readMarkBook, sheetFile } from '@jotmark/server';
import ExcelJS from 'exceljs';
import { launch, signedIn } from './browser.ts';
import { atMost, type Figure, inTurn, median, timed } from './figures.ts';
import { benchClass, id } from './school.ts';

const STUDENTS = 200;
const WORKS = 60;

/** Mark book and feedback log of a long year, and what it costs to write them out. */
export async function bookFigures(running: Running): Promise<Figure[]> {
  const { classId, first, teacher } = await longYear(running, STUDENTS, true);
  const figures = [
    await reading(running, classId),
    await logging(running, classId, first, teacher),
    await asXlsx(),
  ];
  return [...figures, ...(await inBrowser(running))];
}

/** So many students with 60 pieces of work; `back`: all handed in, marked and handed back with five notes each. Written straight into the tables. */
async function longYear(running: Running, count: number, back: boolean) {
  const { house } = running;
  const { db } = house;
  const { login } = await benchClass(running, 1, 0);
  const [teacher] = await db.query('SELECT * FROM person WHERE login = ?', [login]);
  const at = new Date();
  const classId = id<ClassId>();
  await insert(db.manager, ClassTable, {
    id: classId,
    name: '7Y',
    unit: '',
    createdAt: Date.now(),
    bookRule: null,
    archivedAt: null,
  });
  const tag = randomBytes(3).toString('hex');
  const students = Array.from({ length: count }, () => id<PersonId>());
  await db.query('INSERT INTO person (id, role, login, given, family, password_hash, created_at) VALUES ?', [
    students.map((s, i) => [s, 'student', `y${i}-${tag}`, `G${i}`, `F${i}`, '*', at]),
  ]);
  await db.query('INSERT INTO membership (class_id, person_id, role) VALUES ?', [
    [...students.map((s) => [classId, s, 'student']), [classId, teacher.id, 'teacher']],
  ]);
  const content = (n: number) =>
    JSON.stringify({
      v: 1,
      marks: Array.from({ length: 5 }, (_, i) => ({
        v: 2,
        id: id<MarkId>(),
        document: id(),
        page: 0,
        colour: 'garnet',
        focus: i % 2 ? 'method' : 'wording',
        madeAt: 1,
        kind: 'note',
        place: { on: 'spot', x: 10, y: 10 },
        words: `Note ${(n + i) % 12} that says something.`,
      })),
      grade: 700,
      most: 1000,
      closing: 'Well read. Now give the unit every time.',
      markedBy: 'T',
      turns: {},
    });
  for (let w = 0; w < WORKS; w++) {
    const assignmentId = id();
    await db.query(
      `INSERT INTO assignment (id, class_id, title, instructions, due_at, most, created_at, category, unit, opens_at, for_all, hands_in, audience, revision, blind)
       SELECT ?, ?, ?, a.instructions, ?, 1000, ?, 'homework', 'Unit', ?, 1, 1, a.audience, 1, 0 FROM assignment a LIMIT 1`,
      [assignmentId, classId, `Work ${w}`, at, at, at],
    );
    const copies = students.map((s) => ({ s, copy: id(), handIn: id(), marking: id(), back: id() }));
    await db.query('INSERT INTO copy (id, assignment_id, excused) VALUES ?', [
      copies.map((c) => [c.copy, assignmentId, 0]),
    ]);
    await db.query('INSERT INTO copy_member (copy_id, person_id, assignment_id) VALUES ?', [
      copies.map((c) => [c.copy, c.s, assignmentId]),
    ]);
    if (!back) continue;
    await db.query('INSERT INTO hand_in (id, copy_id, number, handed_in_at, late_ms) VALUES ?', [
      copies.map((c) => [c.handIn, c.copy, 1, at, 0]),
    ]);
    await db.query(
      'INSERT INTO marking (id, copy_id, hand_in_id, number, marker_id, begun_at, done_at, left_at, computed, grade, closing, done, lifted, midway) VALUES ?',
      [
        copies.map((c) => [
          c.marking,
          c.copy,
          c.handIn,
          1,
          teacher.id,
          at,
          at,
          0,
          null,
          700,
          'Well read.',
          1,
          0,
          '',
        ]),
      ],
    );
    await db.query(
      'INSERT INTO hand_back (id, copy_id, hand_in_id, round, handed_back_at, by_id, content, grade, notes, unfinished, goes_on, told) VALUES ?',
      [copies.map((c, i) => [c.back, c.copy, c.handIn, 1, at, teacher.id, content(i + w), 700, 5, 0, 0, 1])],
    );
  }
  // The database counts its rows anew by itself after a while; a year does not come in within seconds.
  await db.query(
    'ANALYZE TABLE copy, copy_member, hand_in, marking, hand_back, assignment, membership, person',
  );
  return { classId, first: students[0]!, teacher, login };
}

/** The statements of the mark book, bare: no grade computed, nothing checked. */
async function reading({ house }: Running, classId: ClassId): Promise<Figure> {
  const bare = async () => {
    await house.db.query(
      `SELECT cm.person_id, a.id, c.id AS copy_id, COALESCE(c.due_at, a.due_at) AS due, c.excused, h.number, h.id AS hand_in_id, h.late_ms, m.id AS marking_id, m.done,
         m.grade, m.computed, m.grade_version, m.own,
         (SELECT MAX(h2.number) FROM hand_back b JOIN hand_in h2 ON h2.id = b.hand_in_id WHERE b.copy_id = c.id AND b.goes_on = 0) AS handed_back
       FROM copy_member cm JOIN copy c ON c.id = cm.copy_id JOIN assignment a ON a.id = c.assignment_id
       JOIN membership ms ON ms.class_id = a.class_id AND ms.person_id = cm.person_id AND ms.left_at IS NULL
       LEFT JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)
       LEFT JOIN marking m ON m.copy_id = c.id AND m.number = COALESCE(h.number, 0)
       WHERE a.class_id = ? AND a.opens_at IS NOT NULL AND a.trial_of IS NULL AND a.put_away_at IS NULL`,
      [classId],
    );
    await house.db.query('SELECT * FROM assignment WHERE class_id = ?', [classId]);
    await house.db.query(
      `SELECT p.* FROM membership ms JOIN person p ON p.id = ms.person_id WHERE ms.class_id = ? AND ms.role = 'student'`,
      [classId],
    );
  };
  await bare();
  const [ours, baseline, ratio] = await inTurn(
    7,
    () => timed(() => readMarkBook(house, classId)),
    () => timed(bare),
  );
  return {
    what: `mark book of ${STUDENTS} × ${WORKS}`,
    ours,
    baseline,
    ratio,
    against: 'its bare SQL',
    limit: 2,
  };
}

// biome-ignore lint/suspicious/noExplicitAny: a row as the database gives it
async function logging({ house }: Running, classId: ClassId, first: PersonId, teacher: any): Promise<Figure> {
  const times: number[] = [];
  for (let i = 0; i < 9; i++) times.push(await timed(() => feedbackLog(house, teacher, classId, first)));
  return atMost(`log of a student with ${WORKS} hand-backs`, median(times.slice(1)), 50);
}

/** A class of 35 in a browser: scrolling the whole mark book, and a grade from its key to the total beside it. */
async function inBrowser(running: Running): Promise<Figure[]> {
  const { classId, login } = await longYear(running, 35, false);
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  await page.goto(`${running.address}/classes/${classId}/mark-book`);
  const fields = page.getByLabel(/^Grade of G/);
  await fields.first().waitFor();
  await page.waitForTimeout(1500);
  await page.evaluate(() => {
    const w = window as unknown as { longest: number };
    w.longest = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) w.longest = Math.max(w.longest, entry.duration);
    }).observe({ entryTypes: ['longtask'] });
  });
  await page.mouse.move(700, 500);
  for (let i = 0; i < 30; i++) {
    await page.mouse.wheel(i < 20 ? 600 : -900, i % 2 ? 300 : -300);
    await page.waitForTimeout(60);
  }
  const longest = await page.evaluate(() => (window as unknown as { longest: number }).longest);
  const frames: number[] = [];
  for (let i = 0; i < 9; i++) {
    await fields.first().focus();
    await fields.first().fill(i % 2 ? '3' : '9');
    frames.push(
      await page.evaluate(async () => {
        const field = document.querySelector<HTMLInputElement>('input[aria-label^="Grade of G"]')!;
        const total = () => field.closest('tr')!.lastElementChild!.textContent;
        const before = total();
        field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
        for (let n = 1; n < 60; n++) {
          await new Promise((r) => requestAnimationFrame(r));
          if (total() !== before) return n;
        }
        return 60;
      }),
    );
  }
  await browser.close();
  return [
    atMost(`scrolling a mark book of 35 × ${WORKS}, longest task (0: none reached 50 ms)`, longest, 100),
    atMost('a typed grade to the total beside it', median(frames), 2, 'frames'),
  ];
}

async function asXlsx(): Promise<Figure> {
  const grid: OutGrid = {
    name: 'Grades',
    head: ['Student', ...Array.from({ length: WORKS }, (_, i) => `Work ${i}`)],
    rows: Array.from({ length: STUDENTS }, (_, s) => [
      `Family ${s}, Given`,
      ...Array.from({ length: WORKS }, (_, i) => (s * i) % 101),
    ]),
  };
  const bare = async () => {
    const book = new ExcelJS.Workbook();
    const sheet = book.addWorksheet('Grades');
    sheet.addRow([...grid.head]);
    for (const row of grid.rows) sheet.addRow([...row]);
    await book.xlsx.writeBuffer();
  };
  await bare();
  const [ours, baseline, ratio] = await inTurn(
    7,
    () => timed(() => sheetFile([grid], 'xlsx')),
    () => timed(bare),
  );
  return {
    what: `XLSX of ${STUDENTS} × ${WORKS}`,
    ours,
    baseline,
    ratio,
    against: 'the bare library',
    limit: 1.5,
  };
}

import { readFile } from 'node:fs/promises';
import type { AssignmentId, CopyId, QuestionId, TrailLine } from '@jotmark/core';
import { TrailReader, textStep } from '@jotmark/core';
import { SimulatedStudent } from '@jotmark/school';
import {
  addPerson,
  addWorksheet,
  handOut,
  type Running,
  readPile,
  setAssignment,
  startDraft,
} from '@jotmark/server';
import { launch, signedIn } from './browser.ts';
import { type Figure, inTurn, median, timed } from './figures.ts';
import { ownProcess } from './own-process.ts';
import { benchClass, benchSheet, id, PASSWORD } from './school.ts';

const STUDENTS = 32;
const A_SECOND = 5;
const SECONDS = 20;

/** A class of 32 typing at once, seen from the teacher's screen; the trail it leaves; and a pile of 400. */
export async function roomFigures(running: Running): Promise<Figure[]> {
  return [...(await classFigures(running)), seekFigure(), ...(await pileFigures(running))];
}

async function classFigures(running: Running): Promise<Figure[]> {
  const { house } = running;
  const { login, classId } = await benchClass(running, 1, 0);
  const [teacher] = await house.db.query('SELECT * FROM person WHERE login = ?', [login]);
  const { sheet } = await benchSheet(
    running,
    teacher,
    Array.from({ length: 6 }, (_, i) => [60, 60 + 60 * i, 400, 100 + 60 * i]),
  );
  const people: Awaited<ReturnType<typeof addPerson>>[] = [];
  for (let i = 0; i < STUDENTS; i++) {
    const person = await addPerson(house, {
      role: 'student',
      login: `room-${id()}`,
      given: `R${i}`,
      family: 'Bench',
      password: PASSWORD,
    });
    await house.db.query(`INSERT INTO membership (class_id, person_id, role) VALUES (?, ?, 'student')`, [
      classId,
      person.id,
    ]);
    people.push(person);
  }
  const set = await setAssignment(
    house,
    { classId, title: 'Room', instructions: '', dueAt: null, most: null },
    (a) => addWorksheet(house, a, sheet),
  );
  const { address, pid, stop } = await ownProcess(running);
  const text = 'The way along the shore is flat as far as the gate and then it goes up. '.repeat(12);
  const students = people.map(
    (p) =>
      new SimulatedStudent(address, {
        login: p.login,
        password: PASSWORD,
        answerTo: () => text,
        pause: 1000 / A_SECOND,
        letters: 1,
        reply: null,
      }),
  );
  for (const s of students) await s.signIn();
  const delays = await watch(
    address,
    login,
    set.id,
    people.map((p) => set.copies.get(p.id)!),
    async (began) => {
      for (const [i, s] of students.entries()) s.takeUp(set.copies.get(people[i]!.id)!).catch(() => {});
      await new Promise((r) => setTimeout(r, 3000));
      const before = await cpuSeconds(pid);
      await new Promise((r) => setTimeout(r, SECONDS * 1000));
      began(((await cpuSeconds(pid)) - before) / SECONDS);
    },
  );
  for (const s of students) s.stop();
  const sent = students.reduce((n, s) => n + s.sent.length, 0);
  const [trail] = await house.db.query(
    `SELECT COUNT(*) AS n, SUM(36 + 4 + 36 + 7 + 36 + LENGTH(t.value)) AS bytes FROM copy_trail t JOIN copy c ON c.id = t.copy_id WHERE c.assignment_id = ?`,
    [set.id],
  );
  await stop();
  const sorted = delays.seen.toSorted((a, b) => a - b);
  console.log(
    `${sent} changes of ${STUDENTS} students in ${SECONDS + 3} s; ${Math.round(Number(trail.bytes) / Number(trail.n))} bytes a row of the trail`,
  );
  return [
    {
      what: `server, share of a core, ${STUDENTS} students with ${A_SECOND} changes a second`,
      ours: delays.cpu,
      baseline: null,
      against: '',
      limit: 0.5,
      unit: '',
    },
    {
      what: 'a change on the teacher’s screen, p95',
      ours: sorted[Math.floor(sorted.length * 0.95)]!,
      baseline: null,
      against: '',
      limit: 1500,
    },
    // A browser commits when the typing rests for a quarter second: five keys at a quick hand's 240 a minute make one row.
    {
      what: 'trail, bytes a key (five keys a row)',
      ours: (Number(trail.bytes) / Number(trail.n) + 4) / 5,
      baseline: null,
      against: '',
      limit: 60,
      unit: 'B',
    },
  ];
}

/** Looks at the room as a browser does: a line for hints, then the copies they are about. */
async function watch(
  address: string,
  login: string,
  assignmentId: AssignmentId,
  copies: readonly CopyId[],
  run: (done: (cpu: number) => void) => Promise<void>,
): Promise<{ seen: number[]; cpu: number }> {
  const signIn = await fetch(`${address}/api/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password: PASSWORD }),
  });
  const cookie = signIn.headers.get('set-cookie')!.split(';')[0]!;
  const stop = new AbortController();
  const line = await fetch(`${address}/api/assignments/${assignmentId}/live`, {
    headers: { cookie },
    signal: stop.signal,
  });
  const hinted = new Set<string>();
  const seen: number[] = [];
  const reading = (async () => {
    for await (const part of line.body!.pipeThrough(new TextDecoderStream()))
      for (const [, copy] of part.matchAll(/"copyId":"([^"]+)"/g)) hinted.add(copy!);
  })().catch(() => {});
  let on = true;
  const asking = (async () => {
    while (on) {
      await new Promise((r) => setTimeout(r, 200));
      const some = [...hinted].filter((c) => copies.includes(c as CopyId)).slice(0, 100);
      hinted.clear();
      if (some.length === 0) continue;
      const reply = await fetch(`${address}/api/assignments/${assignmentId}/room?copies=${some.join()}`, {
        headers: { cookie },
      });
      const { rows } = (await reply.json()) as { rows: { workedAt: number }[] };
      const now = Date.now();
      // The newest change of each copy, from its commit until it can be shown.
      for (const row of rows) seen.push(now - row.workedAt);
    }
  })();
  let cpu = 0;
  await run((value) => {
    cpu = value;
  });
  on = false;
  await asking;
  stop.abort();
  await reading;
  return { seen, cpu };
}

/** User and system time of a process, in seconds; the kernel counts in hundredths. */
async function cpuSeconds(pid: number): Promise<number> {
  const fields = (await readFile(`/proc/${pid}/stat`, 'ascii')).split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) / 100;
}

/** Seeking anywhere in a trail of 20,000 changes, the first look included. */
function seekFigure(): Figure {
  const questions = Array.from({ length: 10 }, () => id<QuestionId>());
  const texts = new Map<QuestionId, string>();
  const lines = Array.from({ length: 20_000 }, (_, i): TrailLine => {
    const subject = questions[Math.floor(i / 2000) % 10]!;
    const before = texts.get(subject) ?? '';
    const after = i % 7 === 0 ? before.slice(0, -1) : `${before}${'the way over the hill '[i % 22]}`;
    texts.set(subject, after);
    return { at: i * 300, subject, step: textStep(before, after) };
  });
  const taken: number[] = [];
  for (let round = 0; round < 20; round++) {
    const reader = new TrailReader(lines);
    const start = performance.now();
    reader.at(Math.floor(20_000 * ((round * 7) % 20) * 0.05));
    taken.push(performance.now() - start);
  }
  return {
    what: 'seeking in a trail of 20,000 changes, at first sight',
    ours: median(taken),
    baseline: null,
    against: '',
    limit: 50,
  };
}

/** The pile of 400 as it is answered, against its bare SQL: the same rows without anything made of them. */
async function pileFigures(running: Running): Promise<Figure[]> {
  const { house } = running;
  const { login, classId } = await benchClass(running, 1, 0);
  const [teacher] = await house.db.query('SELECT * FROM person WHERE login = ?', [login]);
  const students = Array.from({ length: 400 }, () => id<never>());
  const at = new Date();
  await house.db.query(
    'INSERT INTO person (id, role, login, given, family, password_hash, created_at) VALUES ?',
    [students.map((s) => [s, 'student', s, 'Bench', `F${s}`, 'x', at])],
  );
  await house.db.query('INSERT INTO membership (class_id, person_id, role) VALUES ?', [
    students.map((s) => [classId, s, 'student']),
  ]);
  const assignment: AssignmentId = await startDraft(house, classId);
  const copies = await house.db.transaction((tx) => handOut(house, tx, assignment, students));
  const handIns = [...copies.values()].map((copy) => [id<string>(), copy, 1, at, 0]);
  await house.db.query('INSERT INTO hand_in (id, copy_id, number, handed_in_at, late_ms) VALUES ?', [
    handIns,
  ]);
  let sql = '';
  let values: unknown[] = [];
  const { manager } = house.db;
  const ear = Object.create(manager, {
    query: {
      value: (text: string, given: unknown[]) => {
        if (text.includes('FROM copy c')) [sql, values] = [text, given];
        return manager.query(text, given);
      },
    },
  });
  await readPile({ ...house, db: Object.create(house.db, { manager: { value: ear } }) }, teacher, assignment);
  const [a, b, ratio] = await inTurn(
    15,
    () => timed(() => readPile(house, teacher, assignment)),
    () => timed(() => house.db.query(sql, values)),
  );
  return [
    { what: 'the pile of 400', ours: a, baseline: b, ratio, against: 'its bare SQL', limit: 2 },
    {
      what: 'typing a name into the search of 400 copies, longest task of a key (0: none reached 50 ms)',
      ours: await searchTask(running, login, assignment),
      baseline: null,
      against: '',
      limit: 50,
    },
  ];
}

/** The longest task of the browser's main thread while a name is typed into the search of a pile and taken away again. */
async function searchTask(running: Running, login: string, assignment: AssignmentId): Promise<number> {
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  await page.goto(`${running.address}/piles/${assignment}`);
  await page.getByRole('table').getByRole('row').nth(20).waitFor();
  await page.getByPlaceholder('name').focus();
  await page.waitForTimeout(1000);
  await page.evaluate(() => {
    const w = window as unknown as { longest: number };
    w.longest = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) w.longest = Math.max(w.longest, entry.duration);
    }).observe({ entryTypes: ['longtask'] });
  });
  for (const key of ['b', 'e', 'n', 'c', 'h', ...Array<string>(5).fill('Backspace')]) {
    await page.keyboard.press(key);
    await page.waitForTimeout(150);
  }
  const longest = await page.evaluate(() => (window as unknown as { longest: number }).longest);
  await browser.close();
  // The browser tells of tasks from 50 ms on.
  return longest;
}

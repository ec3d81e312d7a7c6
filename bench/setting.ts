import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import type { AssignmentId, PersonId, Question, QuestionId } from '@jotmark/core';
import { findingYourWay } from '@jotmark/school';
import {
  addFile,
  addPerson,
  addWorksheet,
  addWorksheetFile,
  documentPages,
  handOut,
  Opener,
  type Running,
  readWorksheet,
  setAssignment,
  startDraft,
} from '@jotmark/server';
import { context, launch } from './browser.ts';
import { type Figure, inTurn, median, timed } from './figures.ts';
import { benchClass, id, PASSWORD } from './school.ts';

const run = promisify(execFile);
const COPIES = 1000;

/** Handing out a worksheet, typing into a page full of fields, and turning a document into pages. */
export async function settingFigures(running: Running): Promise<Figure[]> {
  return [await handOutFigure(running), await keystrokeFigure(running), await officeFigure(running)];
}

async function worksheet(running: Running, login: string, questions: readonly Question[]) {
  const { house } = running;
  const [person] = await house.db.query('SELECT * FROM person WHERE login = ?', [login]);
  const folder = await mkdtemp(join(tmpdir(), 'jotmark-bench-'));
  const path = join(folder, 'sheet.pdf');
  await writeFile(path, (await findingYourWay()).bytes);
  const opener = new Opener();
  const made = await addWorksheetFile(house, opener, person, [{ path, name: 'sheet.pdf' }], questions);
  while ((await readWorksheet(house, person, made)).document.reading.state !== 'done')
    await new Promise((r) => setTimeout(r, 50));
  opener.close();
  return made;
}

/** A thousand copies with their worksheet in one transaction, against one bare INSERT of a thousand rows with a commit. */
async function handOutFigure(running: Running): Promise<Figure> {
  const { house } = running;
  const { login, classId } = await benchClass(running, 1, 0);
  const made = await worksheet(running, login, []);
  const students = Array.from({ length: COPIES }, () => id<PersonId>());
  const at = new Date();
  await house.db.query(
    'INSERT INTO person (id, role, login, given, family, password_hash, created_at) VALUES ?',
    [students.map((s) => [s, 'student', s, 'Bench', 'Bench', 'x', at])],
  );
  await house.db.query(
    'CREATE TABLE bench_copy (id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, assignment_id CHAR(36) NOT NULL, student_id CHAR(36) NOT NULL, UNIQUE KEY (assignment_id, student_id)) ENGINE=InnoDB',
  );
  const ours = async () => {
    const assignment: AssignmentId = await startDraft(house, classId);
    await addWorksheet(house, assignment, made);
    return timed(() => house.db.transaction((tx) => handOut(house, tx, assignment, students)));
  };
  const bare = async () => {
    const assignment = id<string>();
    const rows = students.map((s) => [id<string>(), assignment, s]);
    return timed(() =>
      house.db.transaction((tx) =>
        tx.query('INSERT INTO bench_copy (id, assignment_id, student_id) VALUES ?', [rows]),
      ),
    );
  };
  await ours();
  await bare();
  const [a, b, ratio] = await inTurn(15, ours, bare);
  await house.db.query('DROP TABLE bench_copy');
  return {
    what: `handing out ${COPIES} copies with a worksheet`,
    ours: a,
    baseline: b,
    ratio,
    against: `one bare INSERT of ${COPIES} rows`,
    limit: 3,
  };
}

/** Script a key costs in one of sixty fields of a page, as the browser's own counter says. */
async function keystrokeFigure(running: Running): Promise<Figure> {
  const { house } = running;
  const { login, classId } = await benchClass(running, 1, 0);
  const questions = Array.from(
    { length: 60 },
    (_, i): Question => ({
      id: id<QuestionId>(),
      page: 0,
      box: [
        40 + 180 * (i % 3),
        60 + 36 * Math.floor(i / 3),
        200 + 180 * (i % 3),
        82 + 36 * Math.floor(i / 3),
      ],
      part: false,
      label: null,
      points: 100,
      answer: i % 2 ? { kind: 'line' } : { kind: 'paragraph', lines: null },
    }),
  );
  const made = await worksheet(running, login, questions);
  const student = await addPerson(house, {
    role: 'student',
    login: `k-${id()}`,
    given: 'Key',
    family: 'Bench',
    password: PASSWORD,
  });
  await house.db.query(`INSERT INTO membership (class_id, person_id, role) VALUES (?, ?, 'student')`, [
    classId,
    student.id,
  ]);
  const set = await setAssignment(
    house,
    { classId, title: 'Keys', instructions: '', dueAt: null, most: null },
    (a) => addWorksheet(house, a, made),
  );
  const browser = await launch();
  const page = await (await context(browser)).newPage();
  await page.goto(running.address);
  await page.getByLabel('Login').fill(student.login);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out' }).waitFor();
  await page.goto(`${running.address}/work/${set.copies.get(student.id)}`);
  await page.getByLabel('Answer to 31').click();
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  const script = async () =>
    (await cdp.send('Performance.getMetrics')).metrics.find((m) => m.name === 'ScriptDuration')!.value * 1000;
  const text = 'the way over the hill from the south is the easy one ';
  await page.keyboard.type(text);
  const taken: number[] = [];
  for (let round = 0; round < 9; round++) {
    const before = await script();
    await page.keyboard.type(text, { delay: 12 });
    taken.push(((await script()) - before) / text.length);
  }
  await browser.close();
  return {
    what: 'script of a key in one of 60 fields',
    ours: median(taken),
    baseline: null,
    against: '',
    limit: 4,
  };
}

const PARAGRAPH = `<p>${'The way along the shore is flat as far as the gate, and then it goes up in steps that are higher than they look. '.repeat(9)}</p>`;

/** A document of three pages from the moment it is added until its pages can be opened, against LibreOffice alone. */
async function officeFigure(running: Running): Promise<Figure> {
  const { house } = running;
  const { copies } = await benchClass(running, 1, 0);
  const [copy] = await house.db.query('SELECT c.id FROM copy c WHERE c.id = ?', [copies[0]!.copyId]);
  // What was handed in by the class stays; the copy is opened again.
  await house.db.query('DELETE FROM hand_in_document WHERE hand_in_id = ?', [copies[0]!.handInId]);
  await house.db.query('DELETE FROM hand_in WHERE id = ?', [copies[0]!.handInId]);
  const folder = await mkdtemp(join(tmpdir(), 'jotmark-bench-'));
  await writeFile(join(folder, 'three.html'), `<html><body>${PARAGRAPH.repeat(11)}</body></html>`);
  const office = (profile: string, to: string, file: string, out: string) =>
    run('soffice', [
      `-env:UserInstallation=file://${profile}`,
      '--headless',
      '--convert-to',
      to,
      '--outdir',
      out,
      file,
    ]);
  await office(join(folder, 'profile'), 'docx:MS Word 2007 XML', join(folder, 'three.html'), folder);
  const docx = join(folder, 'three.docx');
  const opener = new Opener();
  let n = 0;
  const ours = async () =>
    timed(async () => {
      const { id: documentId } = await addFile(house, opener, copy.id, {
        path: docx,
        name: `three ${n++}.docx`,
      });
      // As the server does after every upload.
      running.runner.nudge();
      for (;;) {
        const { state } = await documentPages(house, documentId, false);
        if (state.reading.state === 'done') {
          if (state.pages < 3) throw new Error(`${state.pages} pages`);
          return;
        }
        if (state.reading.state === 'failed') throw new Error('not converted');
        await new Promise((r) => setTimeout(r, 10));
      }
    });
  const bare = async () => {
    const fresh = join(folder, `profile${n++}`);
    const ms = await timed(() => office(fresh, 'pdf', docx, folder));
    await rm(fresh, { recursive: true, force: true });
    return ms;
  };
  await ours();
  await bare();
  const [a, b, ratio] = await inTurn(5, ours, bare);
  opener.close();
  return {
    what: 'converting a 3-page docx, until its pages can be opened',
    ours: a,
    baseline: b,
    ratio,
    against: 'bare LibreOffice',
    limit: 1.2,
  };
}

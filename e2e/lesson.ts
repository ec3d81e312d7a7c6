import { spawn } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import type { AssignmentId, ChangeId, ClassId, CopyId, Question, WorksheetId } from '@jotmark/core';
import {
  addWorksheet,
  addWorksheetFile,
  type House,
  handIn,
  makeWritingPages,
  newId,
  Opener,
  readWorksheet,
  setAssignment,
  takeCopyChanges,
} from '@jotmark/server';
import { type Class, expect, line, testFolder } from './story.ts';

export interface Lesson {
  readonly assignmentId: AssignmentId;
  readonly title: string;
  readonly worksheetId: WorksheetId;
  readonly questions: readonly Question[];
  /** The copy of the nth student of the class. */
  copyOf(n: number): CopyId;
}

/** A worksheet with three lines to write on, or other questions, handed out to a class. */
export async function makeLesson(
  house: House,
  c: Class,
  file: string,
  questions: readonly Question[] = [line(0), line(1), line(2)],
): Promise<Lesson> {
  const row = await teacherOf(house, c);
  const opener = new Opener();
  const path = testFolder(`room-${newId(house)}.pdf`);
  await writeFile(path, await readFile(file));
  const sheet = await addWorksheetFile(house, opener, row, [{ path, name: 'Island.pdf' }], questions);
  opener.close();
  await expect.poll(async () => (await readWorksheet(house, row, sheet)).document.reading.state).toBe('done');
  return handedOut(house, c, row, sheet, `Room ${newId(house).slice(-12)}`, questions);
}

/** Pages to write on and nothing else, handed out to a class. */
export async function makeEssay(house: House, c: Class, words: number | null = 400): Promise<Lesson> {
  const row = await teacherOf(house, c);
  const sheet = await makeWritingPages(house, row.id, c.assignmentId, words);
  await expect.poll(async () => (await readWorksheet(house, row, sheet)).document.reading.state).toBe('done');
  const { questions } = await readWorksheet(house, row, sheet);
  return handedOut(house, c, row, sheet, `Essay ${newId(house).slice(-12)}`, questions);
}

const teacherOf = async (house: House, c: Class) => {
  const [row] = await house.db.query(
    'SELECT p.*, m.class_id FROM person p JOIN membership m ON m.person_id = p.id WHERE p.login = ?',
    [c.teacher],
  );
  return row;
};

async function handedOut(
  house: House,
  c: Class,
  row: { class_id: ClassId },
  sheet: WorksheetId,
  title: string,
  questions: readonly Question[],
): Promise<Lesson> {
  const set = await setAssignment(
    house,
    { classId: row.class_id, title, instructions: '', dueAt: null, most: 300 },
    (a) => addWorksheet(house, a, sheet),
  );
  const people: { id: string; login: string }[] = await house.db.query(
    'SELECT id, login FROM person WHERE login IN (?)',
    [c.students],
  );
  const idOf = new Map(people.map((p) => [p.login, p.id]));
  return {
    assignmentId: set.id,
    title,
    worksheetId: sheet,
    questions,
    copyOf: (n) => set.copies.get(idOf.get(c.students[n]!) as never)! as CopyId,
  };
}

/** A student of the class types these answers and hands in, as a browser would; for stories that are about what comes after. */
export async function answered(
  house: House,
  c: Class,
  lesson: Lesson,
  student: number,
  values: readonly string[],
): Promise<void> {
  const copyId = lesson.copyOf(student);
  const changes = values.map((value, i) => ({
    id: newId<ChangeId>(house),
    base: null,
    type: 'answer' as const,
    question: lesson.questions[i]!.id,
    value,
    was: '',
  }));
  await takeCopyChanges(house, copyId, changes);
  await handIn(house, c.people[student]!.person, copyId, { id: newId(house), cover: '', claimedAt: null });
}

export interface OwnServer {
  readonly address: string;
  /** Ends it as a power cut does. */
  kill(): Promise<void>;
}

/** A server process of a story's own on the tests' database. */
export async function ownServer(port = 0, database = process.env.E2E_DATABASE): Promise<OwnServer> {
  const child = spawn('node', [fileURLToPath(new URL('../server/dist/main.js', import.meta.url))], {
    env: {
      ...process.env,
      DATABASE_URL: database,
      WEB_DIR: fileURLToPath(new URL('../web/dist', import.meta.url)),
      PORT: String(port),
      JOTMARK_WORKERS: '0',
      LOG_LEVEL: 'error',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    child.stdout.on('data', (text) => {
      const found = /serves on (http:\S+)/.exec(String(text));
      if (found) resolve(found[1]!);
    });
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
  });
  return {
    address,
    kill: async () => {
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGKILL');
      await ended;
    },
  };
}

import { randomBytes } from 'node:crypto';
import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type ChangeId,
  type ClassId,
  type CopyId,
  type DocumentId,
  type HandInId,
  type Mark,
  type MarkId,
  type MarkingChange,
  makeId,
  type Person,
  type Question,
  type QuestionId,
  type WorksheetId,
} from '@jotmark/core';
import { Chance, fillIn, findingYourWay } from '@jotmark/school';
import {
  addClass,
  addFile,
  addPerson,
  addWorksheetFile,
  documentPages,
  handIn,
  newId,
  Opener,
  type Running,
  readWorksheet,
  setAssignment,
  takeChanges,
} from '@jotmark/server';

export const PASSWORD = 'bench password';

let tick = Date.now();
export const id = <T extends string>() => makeId(tick++, randomBytes(10)) as T;

export interface BenchCopy {
  readonly copyId: CopyId;
  readonly handInId: HandInId;
  readonly documentId: DocumentId;
}

/** A class whose students have all handed in a real worksheet; the first copy has `marks` pen strokes on its first page. */
export async function benchClass(
  running: Running,
  students: number,
  marks: number,
): Promise<{ login: string; classId: ClassId; copies: BenchCopy[]; assignmentId: string }> {
  const { house } = running;
  const tag = randomBytes(3).toString('hex');
  const add = (role: 'teacher' | 'student', login: string) =>
    addPerson(house, { role, given: login, family: 'Bench', login, password: PASSWORD });
  const teacher = await add('teacher', `t-${tag}`);
  const people = [];
  for (let i = 0; i < students; i++)
    people.push(await add('student', `s${String(i).padStart(2, '0')}-${tag}`));
  const classId = await addClass(house, {
    name: '7B',
    unit: 'Bench',
    teachers: [teacher.id],
    students: people.map((p) => p.id),
  });
  const set = await setAssignment(house, {
    classId,
    title: 'Bench',
    instructions: '',
    dueAt: null,
    most: 1000,
  });
  const sheet = await findingYourWay();
  const opener = new Opener();
  const folder = await mkdtemp(join(tmpdir(), 'jotmark-bench-'));
  const copies: BenchCopy[] = [];
  for (const [i, person] of people.entries()) {
    const copyId = set.copies.get(person.id)!;
    const path = join(folder, `${i}.pdf`);
    await writeFile(path, (await fillIn(new Chance(i + 1), sheet, person.given, 0.6)).bytes);
    const { id: documentId } = await addFile(house, opener, copyId, { path, name: 'bench.pdf' });
    copies.push({
      copyId,
      documentId,
      handInId: await handIn(house, person, copyId, { id: newId(house), cover: '', claimedAt: null }),
    });
  }
  opener.close();
  for (const copy of copies)
    while ((await documentPages(house, copy.documentId, true)).state.reading.state !== 'done')
      await new Promise((r) => setTimeout(r, 50));
  const first = copies[0]!;
  const strokes = Array.from(
    { length: marks },
    (_, i): MarkingChange => ({
      id: newId<ChangeId>(house),
      base: null,
      type: 'put',
      was: null,
      mark: stroke(first.documentId, i),
    }),
  );
  for (let i = 0; i < strokes.length; i += 200)
    await takeChanges(house, teacher, { handInId: first.handInId }, strokes.slice(i, i + 200));
  return { login: teacher.login, classId, copies, assignmentId: set.id };
}

/** A worksheet with a question to write at, in each of these boxes of its first page; its pages are read. */
export async function benchSheet(
  { house }: Running,
  teacher: Person,
  boxes: readonly Question['box'][],
): Promise<{ sheet: WorksheetId; questions: Question[] }> {
  const path = join(await mkdtemp(join(tmpdir(), 'jotmark-bench-')), 'sheet.pdf');
  await writeFile(path, (await findingYourWay()).bytes);
  const questions = boxes.map(
    (box): Question => ({
      id: id<QuestionId>(),
      page: 0,
      box,
      part: false,
      label: null,
      points: 100,
      answer: { kind: 'paragraph', lines: null },
    }),
  );
  const opener = new Opener();
  const sheet = await addWorksheetFile(house, opener, teacher, [{ path, name: 'sheet.pdf' }], questions);
  while ((await readWorksheet(house, teacher, sheet)).document.reading.state !== 'done')
    await new Promise((r) => setTimeout(r, 50));
  opener.close();
  return { sheet, questions };
}

/** A pen stroke like a written word, the i-th of many on a page. */
export function stroke(document: DocumentId, i: number): Mark {
  const x = 40 + (i % 25) * 20;
  const y = 40 + Math.floor(i / 25) * 36;
  const points = Array.from({ length: 24 }, (_, k) => [
    Math.round((x + k * 0.8) * 100),
    Math.round((y + 5 * Math.sin(k / 2)) * 100),
    90 + k * 4,
  ]).flat();
  return {
    v: 2,
    id: id<MarkId>(),
    document,
    page: 0,
    colour: 'garnet',
    focus: null,
    madeAt: 1,
    kind: 'ink',
    points,
    width: 1.6,
  };
}

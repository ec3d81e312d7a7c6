import { readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type {
  AssignmentId,
  ChangeId,
  CopyChange,
  CopyId,
  DocumentId,
  Person,
  PersonId,
  Question,
  QuestionId,
  RichText,
  WorksheetId,
} from '@jotmark/core';
import {
  addFile,
  addLink,
  addLinkMaterial,
  addWorksheetFile,
  handIn,
  newId,
  type Opener,
  readWorksheet,
  setAssignment,
  takeChanges,
  takeCopyChanges,
} from '@jotmark/server';
import { answerOf } from '../answers/answers.ts';
import type { Chance } from '../chance.ts';
import { questionsOf, type Worksheet } from '../worksheet/worksheets.ts';
import { changesFor } from './marks.ts';
import { filmed as filmedClip, onFilm, recorded } from './voices.ts';

/** Files that students bring along, shipped as they are: a document, a photo of a page, a film. */
export const asset = (name: string) => fileURLToPath(new URL(`../../assets/${name}`, import.meta.url));

export interface Setting {
  readonly house: SchoolHouse;
  readonly opener: Opener;
  readonly folder: string;
  readonly chance: Chance;
  readonly teacher: Person;
}

/** Makes a worksheet with its questions in a teacher's name, and waits until its pages are there. */
export async function keepWorksheet(
  { house, opener, folder, teacher }: Setting,
  sheet: Worksheet,
): Promise<{ id: WorksheetId; document: DocumentId; questions: Question[] }> {
  const path = join(folder, `${sheet.title}.pdf`);
  await writeFile(path, sheet.bytes);
  const questions = questionsOf(sheet, () => newId<QuestionId>(house));
  const id = await addWorksheetFile(house, opener, teacher, [{ path, name: basename(path) }], questions);
  for (let tries = 0; tries < 1200; tries++) {
    const { document } = await readWorksheet(house, teacher, id);
    if (document.reading.state === 'done') return { id, document: document.id, questions };
    if (document.reading.state === 'failed') break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`The pages of "${sheet.title}" could not be made`);
}

import type { SchoolHouse } from './pile.ts';

const text = (words: string, bold = false) => ({
  type: 'text' as const,
  text: words,
  ...(bold ? { marks: [{ type: 'bold' as const }] } : {}),
});

export const LIGHTHOUSE_WORDS: RichText = {
  type: 'doc',
  content: [
    { type: 'paragraph', content: [text('Plan first, then write. Bring your copy on Thursday.')] },
    { type: 'heading', attrs: { level: 3 }, content: [text('Before you begin')] },
    {
      type: 'bulletList',
      content: [
        'Take a ruler and a protractor.',
        'Mark your legs on the map with the pencil.',
        'Numbers need their unit.',
      ].map((words) => ({ type: 'listItem', content: [{ type: 'paragraph', content: [text(words)] }] })),
    },
    { type: 'paragraph', content: [text('Stuck? ', true), text('Write me a word beside your copy.')] },
  ],
};

/** What a student types into some of the questions, a few keys at a time, over one or two sittings. */
export async function workOn(
  { house, chance }: Setting,
  sheet: Worksheet,
  questions: readonly Question[],
  copyId: CopyId,
  share: number,
  at: number,
  /** Whether there was a supper in between. */
  breaks = false,
): Promise<void> {
  house.setClock(at);
  for (const [i, question] of questions.slice(0, Math.ceil(questions.length * share)).entries()) {
    const whole = answerOf(chance, sheet.title, sheet.places[i]!.question, 0.7).text;
    let base: ChangeId | null = null;
    let was = '';
    for (const { value, pasted } of wordings(whole, i)) {
      const change: CopyChange = {
        id: newId<ChangeId>(house),
        base,
        type: 'answer',
        question: question.id,
        value,
        was,
        ...(pasted ? { pasted } : {}),
      };
      await takeCopyChanges(house, copyId, [change]);
      base = change.id;
      was = value;
      house.setClock(house.now() + chance.between(4000, 15_000));
    }
    const supper = i === 1 && breaks ? 3 * 3_600_000 : 0;
    house.setClock(house.now() + supper + chance.between(30_000, 4 * 60_000));
  }
}

/** How an answer comes to be: a few words at a time, in every other one with a second thought, now and then pasted whole. */
function wordings(whole: string, i: number): { value: string; pasted?: number }[] {
  const words = whole.split(' ');
  const upTo = (n: number) => words.slice(0, n).join(' ');
  if (i % 5 === 2 && whole.length > 20) return [{ value: whole, pasted: whole.length }];
  const out: { value: string }[] = [];
  for (let n = 0; n < words.length; n += 6) {
    out.push({ value: upTo(n + 6) });
    if (i % 2 === 1 && n === 6) out.push({ value: `${upTo(n + 6)} I think` }, { value: upTo(n + 3) });
  }
  return out;
}

/** An assignment in which students bring what they have: each in another way. Gives its copies. */
export async function fieldWalk(
  s: Setting,
  classId: Parameters<typeof setAssignment>[1]['classId'],
  dueAt: number,
  students: readonly Person[],
): Promise<{ id: AssignmentId; copies: Map<PersonId, CopyId> }> {
  const { house, opener, teacher } = s;
  const set = await setAssignment(
    house,
    {
      classId,
      title: 'My walk along the shore',
      instructions:
        'Show me your walk: write, take photos, film it or point to a map. Whatever tells it best.',
      dueAt,
      most: null,
      category: 'project',
    },
    async (id) => {
      await addLinkMaterial(
        house,
        teacher.id,
        id,
        'https://shore.hollin.example/tides',
        'Tide times at Hollin Bay',
      );
    },
  );
  const bring = async (n: number, hours: number, add: (copyId: CopyId) => Promise<unknown>, cover = '') => {
    const student = students[n]!;
    const copyId = set.copies.get(student.id)!;
    house.setClock(dueAt - hours * 3_600_000);
    await add(copyId);
    return handIn(house, student, copyId, { id: newId(house), cover, claimedAt: null });
  };
  const file = (name: string) => async (copyId: CopyId) => {
    // Whatever happens to the file it was read from, the shipped one stays as it is.
    const path = join(s.folder, name);
    await writeFile(path, await readFile(asset(name)));
    return addFile(house, opener, copyId, { path, name });
  };
  await bring(0, 30, file('my walk.docx'), 'My brother came along, he is the one in the yellow coat.');
  await bring(2, 20, file('page by hand.jpg'));
  let film: DocumentId | null = null;
  const filmed = await bring(5, 9, async (copyId) => {
    film = (await file('walk.webm')(copyId)).id;
    await file('page by hand.jpg')(copyId);
  });
  await bring(7, 4, (copyId) =>
    addLink(house, copyId, 'https://maps.hollin.example/walks/chidubem', 'My walk on the school map'),
  );
  await bring(11, -5, file('my walk.docx'), 'Sorry it is late, the ferry did not go.');
  // One is begun: a film takes marks at its moments.
  house.setClock(dueAt + 20 * 3_600_000);
  const maker = { newId: <T extends string>() => newId<T>(house), now: () => house.now() };
  const marks = onFilm(film!, maker, await recorded(house, teacher, 'evidence'));
  const slip = { grade: null, closing: '', voice: await filmedClip(house, teacher), done: false };
  await takeChanges(house, teacher, { handInId: filmed }, changesFor(maker, marks, slip));
  return set;
}

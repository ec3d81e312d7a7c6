import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { CopyId, DocumentId, HandInId, Mark, Person, PersonId } from '@jotmark/core';
import {
  addFile,
  documentPages,
  type House,
  handIn,
  newId,
  type Opener,
  readText,
  takeChanges,
} from '@jotmark/server';
import { type FilledIn, fillIn } from '../answers/fill-in.ts';
import type { Chance } from '../chance.ts';
import type { Worksheet } from '../worksheet/worksheets.ts';
import { changesFor, type MarkMaker, marksFor } from './marks.ts';
import { recorded, talkedThrough, withFirstSpoken } from './voices.ts';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

const CLOSING = {
  high: [
    'You read the map well. Next time help somebody else to read theirs.',
    'Clear and careful all the way. Thank you for showing your working.',
  ],
  middle: [
    'You are on the right path. Read my notes, then measure once more.',
    'Good thinking, now be exact: numbers first, words after.',
  ],
  low: [
    'Come and see me on Tuesday, we will read this map together.',
    'Do not give up: question 1 is the key to the others.',
  ],
};

/** A house whose clock the school sets, so that things happened when they happened. */
export interface SchoolHouse extends House {
  setClock(to: number): void;
}

interface HandedIn {
  readonly copyId: CopyId;
  readonly handInId: HandInId;
  readonly documentId: DocumentId;
  readonly filled: FilledIn;
  readonly student: Person;
}

interface Bringing {
  house: SchoolHouse;
  opener: Opener;
  folder: string;
  chance: Chance;
  sheet: Worksheet;
  copies: Map<PersonId, CopyId>;
  who: readonly Person[];
  dueAt: number;
  share: number;
  strength: Map<PersonId, number>;
  say: (text: string) => void;
}

/** Each of them fills in the worksheet and hands it in, most in the days before the date, a `share` of them late. */
export async function handInAll(b: Bringing): Promise<HandedIn[]> {
  const out: HandedIn[] = [];
  for (const [i, student] of b.who.entries()) {
    b.say(`${b.sheet.title}: handed in ${i + 1} of ${b.who.length}`);
    const copyId = b.copies.get(student.id)!;
    const filled = await fillIn(
      b.chance,
      b.sheet,
      `${student.given} ${student.family}`,
      b.strength.get(student.id)!,
    );
    const path = join(b.folder, `${copyId}.pdf`);
    await writeFile(path, filled.bytes);
    b.house.setClock(
      b.chance.yes(b.share)
        ? b.dueAt + b.chance.between(20 * MINUTE, 30 * HOUR)
        : b.dueAt - b.chance.between(30 * MINUTE, 60 * HOUR),
    );
    const name = b.chance.pick([
      `${b.sheet.title}.pdf`,
      'map homework.pdf',
      `scan ${b.chance.int(100, 999)}.pdf`,
    ]);
    const { id: documentId } = await addFile(b.house, b.opener, copyId, { path, name });
    out.push({
      copyId,
      documentId,
      filled,
      student,
      handInId: await handIn(b.house, student, copyId, { id: newId(b.house), cover: '', claimedAt: null }),
    });
  }
  return out;
}

/** Waits until the server has read all pages, so that marks can stand on their words. */
export async function readAll(
  house: House,
  handedIn: readonly HandedIn[],
  say: (text: string) => void,
): Promise<void> {
  for (const [i, { documentId }] of handedIn.entries())
    for (let tries = 0; ; tries++) {
      const { state } = await documentPages(house, documentId, true);
      if (state.reading.state === 'done') break;
      if (state.reading.state === 'failed' || tries > 1200)
        throw new Error(`Pages of ${documentId} could not be read: ${state.reading.error}`);
      say(`reading pages: ${i} of ${handedIn.length}`);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
}

interface Marking {
  house: SchoolHouse;
  teacher: Person;
  chance: Chance;
  sheet: Worksheet;
  handedIn: readonly HandedIn[];
  done: number;
  begun: number;
  startAt: number;
  say: (text: string) => void;
  /** Counts which phrases of the bank were taken. */
  used(handInId: HandInId, marks: readonly Mark[]): Promise<void>;
}

/** One note is spoken, and one answer talked through with the pen. */
async function speakOn(
  { house, teacher, chance, sheet }: Marking,
  maker: MarkMaker,
  marks: Mark[],
): Promise<Mark[]> {
  const place = sheet.places.find((p) => p.question === '2')!;
  const spoken = withFirstSpoken(marks, await recorded(house, teacher, 'scale'));
  return [...spoken, ...talkedThrough(chance, maker, place, await recorded(house, teacher, 'talk'))];
}

/** The teacher marks the first `done` copies and begins `begun` more, a few minutes each; gives what was put on each. */
export async function markAll(
  m: Marking,
): Promise<{ copyId: CopyId; student: Person; marks: readonly Mark[] }[]> {
  let at = m.startAt;
  const out = [];
  for (const [i, copy] of m.handedIn.slice(0, m.done + m.begun).entries()) {
    m.say(`${m.sheet.title}: marked ${i + 1} of ${m.done + m.begun}`);
    const text = await readText(m.house.db.manager, copy.documentId);
    m.house.setClock(at);
    const maker = {
      document: copy.documentId,
      text,
      newId: <T extends string>() => newId<T>(m.house),
      now: () => m.house.now(),
    };
    const typed = marksFor(m.chance, maker, m.sheet, copy.filled.answers);
    const spoken = i === 0;
    const marks = spoken ? await speakOn(m, maker, typed) : typed;
    const finished = i < m.done;
    const points = [...copy.filled.answers.values()].reduce((sum, a) => sum + a.points, 0);
    const share = points / (m.sheet.points * 100);
    const words = m.chance.pick(CLOSING[share > 0.8 ? 'high' : share > 0.5 ? 'middle' : 'low']);
    const some = finished ? marks : marks.slice(0, Math.max(1, marks.length >> 1));
    const changes = changesFor(
      maker,
      some,
      finished
        ? {
            grade: points,
            closing: `${copy.student.given}: ${words}`,
            voice: spoken ? await recorded(m.house, m.teacher, 'closing') : null,
            done: true,
          }
        : null,
    );
    if (finished) {
      await takeChanges(m.house, m.teacher, { handInId: copy.handInId }, changes.slice(0, -1));
      at += m.chance.between(2.5 * MINUTE, 6 * MINUTE);
      m.house.setClock(at);
      await takeChanges(m.house, m.teacher, { handInId: copy.handInId }, changes.slice(-1));
    } else await takeChanges(m.house, m.teacher, { handInId: copy.handInId }, changes);
    await m.used(copy.handInId, some);
    out.push({ copyId: copy.copyId, student: copy.student, marks: some });
  }
  return out;
}

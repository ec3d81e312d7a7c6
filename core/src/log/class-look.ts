import * as z from 'zod';
import { AssignmentId, CopyId, PersonId } from '../ids/id.ts';
import { countFocuses } from '../pens/focus.ts';
import { FocusName, FocusSign, InkColour } from '../pens/ink-colour.ts';
import { phraseKey } from './again.ts';
import type { FeedbackLog, LogBack, LogNote } from './entry.ts';

/** A copy that stands behind a point of a chart. */
export const BehindIt = z.object({
  copyId: CopyId,
  personId: PersonId,
  student: z.string(),
  title: z.string(),
  /** How often it is there. */
  times: z.int(),
});
export type BehindIt = z.infer<typeof BehindIt>;

/** What was said to a class, over its work. */
export const ClassLook = z.object({
  className: z.string(),
  works: z.array(
    z.object({
      id: AssignmentId,
      title: z.string(),
      at: z.int(),
      copies: z.int(),
      notes: z.int(),
      done: z.int(),
    }),
  ),
  /** A focus by pieces of work, in the order of `works`. */
  focuses: z.array(
    z.object({
      name: FocusName,
      colour: InkColour,
      sign: FocusSign,
      count: z.int(),
      by: z.array(z.array(BehindIt)),
    }),
  ),
  /** Phrases that were needed most, the most frequent first. */
  phrases: z.array(z.object({ words: z.string(), times: z.int(), copies: z.array(BehindIt) })),
  /** Who has notes that are not dealt with, the most first. */
  open: z.array(
    z.object({
      personId: PersonId,
      student: z.string(),
      open: z.int(),
      notes: z.int(),
      copies: z.array(BehindIt),
    }),
  ),
});
export type ClassLook = z.infer<typeof ClassLook>;

/** So many phrases are shown. */
export const LOOK_PHRASES = 20;
const LEAST_LETTERS = 4;

interface Said {
  readonly work: LogBack;
  readonly student: string;
  readonly personId: FeedbackLog['student']['id'];
  readonly note: LogNote;
}

/** The copies that hold these notes, each once, with how often. */
function behind(said: readonly Said[]): BehindIt[] {
  const by = new Map<string, BehindIt>();
  for (const { work, student, personId } of said) {
    const was = by.get(work.copyId);
    by.set(work.copyId, {
      copyId: work.copyId,
      personId,
      student,
      title: work.title,
      times: (was?.times ?? 0) + 1,
    });
  }
  return [...by.values()].sort((a, b) => b.times - a.times || (a.student < b.student ? -1 : 1));
}

/** Which focus dominates, which phrase was needed most and who has open notes, per piece of work and over all of it. Of each copy the newest hand-back counts. */
export function classLook(className: string, logs: readonly FeedbackLog[]): ClassLook {
  const newest = new Map<string, LogBack>();
  const owners = new Map<string, { student: string; personId: Said['personId'] }>();
  for (const { student, entries } of logs)
    for (const e of entries) {
      if (e.of !== 'work' || e.held) continue;
      const key = `${student.id} ${e.copyId}`;
      const was = newest.get(key);
      if (!was || was.handIn < e.handIn) newest.set(key, e);
      owners.set(key, { student: `${student.given} ${student.family}`.trim(), personId: student.id });
    }
  const all: Said[] = [...newest].flatMap(([key, work]) =>
    work.notes.map((note) => ({ work, note, ...owners.get(key)! })),
  );
  const works = [...new Set([...newest.values()].map((w) => w.assignmentId))]
    .map((id) => {
      const of = [...newest.values()].filter((w) => w.assignmentId === id);
      return {
        id,
        title: of[0]!.title,
        at: Math.min(...of.map((w) => w.at)),
        copies: of.length,
        notes: of.reduce((n, w) => n + w.notes.length, 0),
        done: of.reduce((n, w) => n + w.notes.filter((x) => x.done).length, 0),
      };
    })
    .sort((a, b) => a.at - b.at);
  const phrases = new Map<string, Said[]>();
  for (const said of all) {
    const key = said.note.suggestion ? '' : phraseKey(said.note.words);
    if (key.length >= LEAST_LETTERS) phrases.set(key, [...(phrases.get(key) ?? []), said]);
  }
  return {
    className,
    works,
    focuses: countFocuses(all.map((s) => s.note))
      .map((f) => ({
        ...f,
        by: works.map((w) =>
          behind(all.filter((s) => s.work.assignmentId === w.id && s.note.focus === f.name)),
        ),
      }))
      .sort((a, b) => b.count - a.count),
    phrases: [...phrases.values()]
      .filter((said) => said.length > 1)
      .map((said) => ({ words: said[0]!.note.words, times: said.length, copies: behind(said) }))
      .sort((a, b) => b.times - a.times || (a.words < b.words ? -1 : 1))
      .slice(0, LOOK_PHRASES),
    open: logs
      .flatMap(({ student }) => {
        const mine = all.filter((s) => s.personId === student.id);
        const open = mine.filter((s) => !s.note.done);
        return open.length
          ? [
              {
                personId: student.id,
                student: `${student.given} ${student.family}`.trim(),
                open: open.length,
                notes: mine.length,
                copies: behind(open),
              },
            ]
          : [];
      })
      .sort((a, b) => b.open - a.open || (a.student < b.student ? -1 : 1)),
  };
}

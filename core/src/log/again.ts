import { countFocuses, type FocusCount } from '../pens/focus.ts';
import type { LogBack, LogEntry, LogNote } from './entry.ts';

/** A phrase or a focus that came in several pieces of work. */
export interface ComesAgain {
  readonly what: 'phrase' | 'focus';
  readonly words: string;
  /** How often it was said, and in how many pieces of work. */
  readonly times: number;
  readonly works: number;
  readonly lastAt: number;
  /** Notes of it that the student is not done with. */
  readonly open: number;
  /** It was in none of the newest pieces of work. */
  readonly stopped: boolean;
}

/** So many pieces of work without it, and it has stopped. */
export const STOPPED_AFTER = 2;
/** A single short word is no phrase that could come again. */
const LEAST_LETTERS = 4;

/** Words as they are held against each other: how they are set and how they end makes no difference. */
export const phraseKey = (words: string): string =>
  words
    .toLocaleLowerCase('en')
    .normalize('NFC')
    .replace(/\s+/g, ' ')
    .replace(/^[\s“”"'‘’(]+|[\s“”"'‘’).,;:!?…]+$/gu, '')
    .slice(0, 200);

const worksOf = (entries: readonly LogEntry[]): LogBack[] =>
  entries.filter((e): e is LogBack => e.of === 'work' && !e.held).toSorted((a, b) => a.at - b.at);

/**
 * What came in at least two pieces of work, the same phrase or the same focus, most often first; and whether it has stopped: it is in none of the two
 * newest. A hand-in again of the same work is a piece of its own. Praise is said again too: which is which the teacher knows.
 */
export function comesAgain(entries: readonly LogEntry[]): ComesAgain[] {
  const works = worksOf(entries);
  const fresh = new Set(works.slice(-STOPPED_AFTER));
  const found = new Map<
    string,
    { what: ComesAgain['what']; words: string; in: LogBack[]; notes: LogNote[] }
  >();
  const add = (what: ComesAgain['what'], key: string, words: string, work: LogBack, note: LogNote) => {
    const at = `${what} ${key}`;
    const entry = found.get(at) ?? { what, words, in: [], notes: [] };
    entry.words = words;
    entry.in.push(work);
    entry.notes.push(note);
    found.set(at, entry);
  };
  for (const work of works)
    for (const note of work.notes) {
      const key = note.suggestion ? '' : phraseKey(note.words);
      if (key.length >= LEAST_LETTERS) add('phrase', key, note.words, work, note);
      if (note.focus !== null) add('focus', note.focus, note.focus, work, note);
    }
  return [...found.values()]
    .map(({ what, words, in: where, notes }) => ({
      what,
      words,
      times: notes.length,
      works: new Set(where).size,
      lastAt: Math.max(...where.map((w) => w.at)),
      open: notes.filter((n) => !n.done).length,
      stopped: works.length > STOPPED_AFTER && !where.some((w) => fresh.has(w)),
    }))
    .filter((c) => c.works > 1)
    .sort((a, b) => b.works - a.works || b.times - a.times || (a.words < b.words ? -1 : 1));
}

/** What a student did with what they were told. */
export interface DoneWith {
  readonly notes: number;
  readonly done: number;
  /** From going back to being done with a note, in days, on average; null: nothing is done. */
  readonly days: number | null;
  readonly suggestions: { readonly taken: number; readonly declined: number; readonly all: number };
}

const DAY_MS = 86_400_000;

/** What became of the notes of what went back, over all these entries. */
export function doneWith(entries: readonly LogEntry[]): DoneWith {
  const works = worksOf(entries);
  const notes = works.flatMap((w) => w.notes);
  const waits = works.flatMap((w) =>
    w.notes.flatMap((n) => (n.done && n.actAt !== null ? [Math.max(0, n.actAt - w.at)] : [])),
  );
  const suggestions = notes.filter((n) => n.suggestion);
  return {
    notes: notes.length,
    done: notes.filter((n) => n.done).length,
    days: waits.length ? waits.reduce((a, b) => a + b, 0) / waits.length / DAY_MS : null,
    suggestions: {
      taken: suggestions.filter((n) => n.act === 'accepted').length,
      declined: suggestions.filter((n) => n.act === 'declined').length,
      all: suggestions.length,
    },
  };
}

/** What the notes of each piece of work were about: a row a focus, a number a piece of work, the oldest first. */
export interface FocusRow extends FocusCount {
  readonly by: readonly number[];
}

export function focusRows(entries: readonly LogEntry[]): FocusRow[] {
  const works = worksOf(entries);
  return countFocuses(works.flatMap((w) => w.notes)).map((f) => ({
    ...f,
    by: works.map((w) => w.notes.filter((n) => n.focus === f.name).length),
  }));
}

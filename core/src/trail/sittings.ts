import * as z from 'zod';
import { MarkId, QuestionId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { replayText, TrailEntry } from './entry.ts';

/** One step with when it was taken (milliseconds of Unix time by the server's clock) and what it was about. */
export const TrailLine = z.object({
  at: z.int(),
  subject: z.union([QuestionId, MarkId]),
  step: TrailEntry,
  /** Which of its writers did it, counted from 0; left out: there is one, or it is not known any more. */
  by: z.int().optional(),
});
export type TrailLine = z.infer<typeof TrailLine>;

export const Trail = z.object({
  lines: z.array(TrailLine),
  /** All strokes that ever were, also those that went. */
  strokes: z.array(Mark),
});
export type Trail = z.infer<typeof Trail>;

/** A pause as long as this ends a sitting, in milliseconds. */
export const SITTING_PAUSE = 10 * 60_000;

/** One stretch of work on a copy. */
export interface Sitting {
  readonly from: number;
  readonly to: number;
  /** Lines of the trail from `first` up to, not with, `end`. */
  readonly first: number;
  readonly end: number;
  /** Letters written and taken away, and of those written how many were pasted. */
  readonly added: number;
  readonly taken: number;
  readonly pasted: number;
  readonly strokes: number;
}

/** The sittings of a trail, in order of time. */
export function sittingsOf(lines: readonly TrailLine[]): Sitting[] {
  const out: Sitting[] = [];
  let first = 0;
  for (let i = 1; i <= lines.length; i++) {
    const before = lines[i - 1]!;
    const next = lines[i];
    if (next && next.at - before.at < SITTING_PAUSE) continue;
    out.push(sitting(lines, first, i));
    first = i;
  }
  return out;
}

function sitting(lines: readonly TrailLine[], first: number, end: number): Sitting {
  let added = 0;
  let taken = 0;
  let pasted = 0;
  let strokes = 0;
  for (let i = first; i < end; i++) {
    const { step } = lines[i]!;
    if (step[0] === 't') {
      added += step[3].length;
      taken += step[2];
      pasted += pastedIn(step);
    } else if (step[0] === '+') strokes++;
  }
  return { from: lines[first]!.at, to: lines[end - 1]!.at, first, end, added, taken, pasted, strokes };
}

/** How many letters of a step were pasted. */
export function pastedIn(step: TrailEntry): number {
  return step[0] === 't' ? (step[4] ?? 0) : 0;
}

/** Passages that came in by pasting, with their line: at least this many letters. */
export const PASSAGE = 12;
export function pastedPassages(
  lines: readonly TrailLine[],
): { readonly line: number; readonly text: string }[] {
  return lines.flatMap((l, line) =>
    l.step[0] === 't' && pastedIn(l.step) >= PASSAGE ? [{ line, text: l.step[3] }] : [],
  );
}

/** A copy as it stood at one moment of its trail. */
export interface CopyAt {
  readonly answers: ReadonlyMap<QuestionId, string>;
  readonly strokes: ReadonlySet<MarkId>;
}

/** So many lines lie between two kept moments: seeking replays at most that many. */
const KEPT_EVERY = 250;

/**
 * Reads a copy as it stood after any number of lines. Moments are kept on the way, so that going back is as quick
 * as going on; the slow way from the first line gives the same, see the tests.
 */
export class TrailReader {
  readonly #lines: readonly TrailLine[];
  readonly #kept: CopyAt[] = [{ answers: new Map(), strokes: new Set() }];

  constructor(lines: readonly TrailLine[]) {
    this.#lines = lines;
  }

  get length(): number {
    return this.#lines.length;
  }

  /** The copy after the first `count` lines; more than there are gives the last state. */
  at(count: number): CopyAt {
    const n = Math.max(0, Math.min(count, this.#lines.length));
    const slot = Math.floor(n / KEPT_EVERY);
    for (let k = this.#kept.length; k <= slot; k++)
      this.#kept.push(replay(this.#lines, this.#kept[k - 1]!, (k - 1) * KEPT_EVERY, k * KEPT_EVERY));
    return replay(this.#lines, this.#kept[slot]!, slot * KEPT_EVERY, n);
  }
}

function replay(lines: readonly TrailLine[], start: CopyAt, from: number, to: number): CopyAt {
  if (from === to) return start;
  const answers = new Map(start.answers);
  const strokes = new Set(start.strokes);
  for (let i = from; i < to; i++) {
    const { subject, step } = lines[i]!;
    if (step[0] === 't')
      answers.set(subject as QuestionId, replayText(answers.get(subject as QuestionId) ?? '', step));
    else if (step[0] === '+') strokes.add(subject as MarkId);
    else strokes.delete(subject as MarkId);
  }
  return { answers, strokes };
}

/** The wordings of one answer on its way: the lines that changed it. */
export function wayOf(
  lines: readonly TrailLine[],
  question: QuestionId,
): { readonly line: number; readonly at: number; readonly text: string }[] {
  let text = '';
  return lines.flatMap((l, line) => {
    if (l.subject !== question || l.step[0] !== 't') return [];
    text = replayText(text, l.step);
    return [{ line, at: l.at, text }];
  });
}

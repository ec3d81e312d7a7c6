import type { QuestionId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { type Scores, typedPoints } from '../scores/score.ts';
import { type Asked, belongsTo, pointsOn } from './asked.ts';

/** What does not add up at a question. */
export type TallyTrouble =
  /** More was given than it can earn, or less than nothing; it counts within its limits. */
  | { readonly what: 'above-most'; readonly given: number; readonly most: number }
  | { readonly what: 'below-zero'; readonly given: number }
  /** What was typed differs from what the marks on its pages say; what was typed counts. */
  | { readonly what: 'typed-differs'; readonly typed: number; readonly marked: number };

export interface TallyLine {
  readonly question: Asked;
  /** The marks that earn something here, in the order they were made. */
  readonly marks: readonly Mark[];
  /** The sum on its pages, in hundredths, before its limits; null: no points stand there. */
  readonly marked: number | null;
  /** What was typed in its place. */
  readonly typed: number | null;
  /** What it earns; null: it is open. */
  readonly points: number | null;
  readonly troubles: readonly TallyTrouble[];
}

export interface Tally {
  readonly lines: readonly TallyLine[];
  /** What all questions earn together, in hundredths. */
  readonly sum: number;
  /** The most they can. */
  readonly most: number;
  /** Questions that can earn something and have not been scored. */
  readonly open: readonly QuestionId[];
  /** How many of the questions that can earn something are scored. */
  readonly scored: number;
  /** Marks with points that belong to no question: they count nowhere. */
  readonly outside: readonly Mark[];
}

/**
 * The sum of the points on the pages, question by question. A question's points are the sum of its marks within 0 and its most, or what was typed.
 * One that can earn nothing (no points, or 0) is never open and counts nothing.
 */
export function tallyOf(asked: readonly Asked[], marks: readonly Mark[], scores: Scores): Tally {
  const at = new Map<QuestionId, Mark[]>(asked.map((q) => [q.id, []]));
  const outside: Mark[] = [];
  for (const mark of marks) {
    if (pointsOn(mark) === null) continue;
    const question = belongsTo(mark, asked);
    if (question) at.get(question.id)!.push(mark);
    else outside.push(mark);
  }
  const lines = asked.map((q) => lineOf(q, at.get(q.id)!, typedPoints(scores, q.id)));
  const earning = lines.filter((l) => (l.question.most ?? 0) > 0);
  const open = earning.filter((l) => l.points === null).map((l) => l.question.id);
  return {
    lines,
    sum: earning.reduce((sum, l) => sum + (l.points ?? 0), 0),
    most: earning.reduce((sum, l) => sum + l.question.most!, 0),
    open,
    scored: earning.length - open.length,
    outside,
  };
}

function lineOf(question: Asked, marks: readonly Mark[], typed: number | null): TallyLine {
  const most = question.most ?? 0;
  const marked = marks.length ? marks.reduce((sum, m) => sum + pointsOn(m)!, 0) : null;
  const within = (points: number) => Math.min(most, Math.max(0, points));
  const troubles: TallyTrouble[] = [];
  const given = typed ?? marked;
  if (given !== null && given > most) troubles.push({ what: 'above-most', given, most });
  if (given !== null && given < 0) troubles.push({ what: 'below-zero', given });
  if (typed !== null && marked !== null && typed !== within(marked))
    troubles.push({ what: 'typed-differs', typed, marked });
  return { question, marks, marked, typed, points: given === null ? null : within(given), troubles };
}

/** The next open question after this one, round to the first; null: all are scored. */
export function nextOpen(tally: Tally, after: QuestionId | null): QuestionId | null {
  const order = tally.lines.map((l) => l.question.id);
  const from = after ? order.indexOf(after) + 1 : 0;
  return [...order.slice(from), ...order.slice(0, from)].find((id) => tally.open.includes(id)) ?? null;
}

/** Which question a mark goes to when it is moved on by a key: the next in order, after the last to none, from none to the first. */
export function questionAfter(asked: readonly Asked[], now: QuestionId | null): QuestionId | null {
  if (now === null) return asked[0]?.id ?? null;
  return asked[asked.findIndex((q) => q.id === now) + 1]?.id ?? null;
}

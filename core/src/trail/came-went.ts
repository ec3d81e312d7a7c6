import type { MarkId, QuestionId } from '../ids/id.ts';
import type { TrailLine, TrailReader } from './sittings.ts';

/** A pause as long as this, in milliseconds, ends a spell: what was changed in one go, without stopping to read. */
export const SPELL_PAUSE = 20_000;

/** What one spell changed: of an answer the passage that came and the one that went, or strokes. */
export type CameWent =
  | { readonly on: 'answer'; readonly question: QuestionId; readonly came: string; readonly went: string }
  | { readonly on: 'page'; readonly came: readonly MarkId[]; readonly went: readonly MarkId[] };

/** The first line of the spell that the `count`th line belongs to: neighbours about the same answer, or all strokes. */
function spellStart(lines: readonly TrailLine[], count: number): number {
  const subjectOf = (l: TrailLine) => (l.step[0] === 't' ? l.subject : 'page');
  let first = count - 1;
  while (
    first > 0 &&
    subjectOf(lines[first - 1]!) === subjectOf(lines[first]!) &&
    lines[first]!.at - lines[first - 1]!.at < SPELL_PAUSE
  )
    first--;
  return first;
}

/** What came and went in the spell that stands after `count` lines, up to that line; null before the first. */
export function cameWent(lines: readonly TrailLine[], reader: TrailReader, count: number): CameWent | null {
  const n = Math.min(count, lines.length);
  const line = lines[n - 1];
  if (!line) return null;
  const first = spellStart(lines, n);
  if (line.step[0] === 't') {
    const question = line.subject as QuestionId;
    const before = reader.at(first).answers.get(question) ?? '';
    const after = reader.at(n).answers.get(question) ?? '';
    return { on: 'answer', question, ...between(before, after) };
  }
  const steps = lines.slice(first, n);
  const of = (sign: '+' | '-') => steps.filter((l) => l.step[0] === sign).map((l) => l.subject as MarkId);
  return { on: 'page', came: of('+'), went: of('-') };
}

/** The middle of two wordings that differ, without what both begin and end with. */
function between(before: string, after: string): { came: string; went: string } {
  const short = Math.min(before.length, after.length);
  let head = 0;
  while (head < short && before[head] === after[head]) head++;
  let tail = 0;
  while (tail < short - head && before.at(-1 - tail) === after.at(-1 - tail)) tail++;
  return { came: after.slice(head, after.length - tail), went: before.slice(head, before.length - tail) };
}

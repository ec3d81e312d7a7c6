import type { QuestionId, Sitting, TrailLine } from '@jotmark/core';
import { plural } from '../time/words.ts';

/** How long a sitting was; one of a moment counts as a minute. */
export function lengthWords(ms: number): string {
  const minutes = Math.max(1, Math.round(ms / 60_000));
  return minutes < 90 ? plural(minutes, 'minute', 'minutes') : `${Math.round(minutes / 60)} hours`;
}

/** What came of a sitting. */
export function sittingWords(s: Sitting): string {
  return [
    `${s.added} letters written`,
    s.taken > 0 && `${s.taken} deleted`,
    s.pasted > 0 && `${s.pasted} of them pasted`,
    s.strokes > 0 && plural(s.strokes, 'stroke', 'strokes'),
  ]
    .filter(Boolean)
    .join(' · ');
}

/** What one line of the trail did; `before` is how the answers read before it. */
export function stepWords(
  line: TrailLine,
  numbers: ReadonlyMap<QuestionId, string>,
  before: ReadonlyMap<QuestionId, string>,
  writers: readonly string[] = [],
): string {
  const who = line.by === undefined ? '' : writers[line.by];
  if (who) return `${who}: ${stepWords({ ...line, by: undefined }, numbers, before)}`;
  const { step, subject } = line;
  if (step[0] === '+') return 'a stroke drawn';
  if (step[0] === '-') return 'a stroke erased';
  const n = numbers.get(subject as QuestionId) ?? '';
  const [, at, cut, put] = step;
  if (cut && !put)
    return `${n}: “${(before.get(subject as QuestionId) ?? '').slice(at, at + cut).slice(0, 24)}” deleted`;
  return `${n}: “${put.slice(0, 24)}” ${step[4] ? 'pasted' : 'written'}`;
}

import type { QuestionId } from '../ids/id.ts';
import { replayText } from './entry.ts';
import { PASSAGE, pastedIn, type TrailLine } from './sittings.ts';

/** So much of what was taken out last is remembered, in letters: more than a long answer. */
const REMEMBERED = 60_000;

const plain = (text: string): string => text.replace(/\s+/g, ' ').trim();

/**
 * The same trail without the pasting that only moved a student's own words: what stood in the copy at that time, or was taken out of it before, was written there
 * and comes from nowhere else. What was pasted in at first counts as pasted once, however often it is moved after.
 */
export function withoutOwnMoves(lines: readonly TrailLine[]): TrailLine[] {
  const answers = new Map<QuestionId, string>();
  let removed = '';
  return lines.map((line) => {
    const { step } = line;
    if (step[0] !== 't') return line;
    const subject = line.subject as QuestionId;
    const before = answers.get(subject) ?? '';
    const [, at, cut, put] = step;
    const own = pastedIn(step) >= PASSAGE && isOwn(plain(put), [...answers.values()], removed);
    // All of the answer as it was: where a cut begins and ends is told only up to letters that are alike.
    if (cut >= PASSAGE) removed = `${removed}\n${before}`.slice(-REMEMBERED);
    answers.set(subject, replayText(before, step));
    return own ? { ...line, step: ['t', at, cut, put] } : line;
  });
}

const isOwn = (words: string, answers: readonly string[], removed: string): boolean =>
  words !== '' && [...answers, removed].some((text) => plain(text).includes(words));

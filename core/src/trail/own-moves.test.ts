import { describe, expect, test } from 'vitest';
import type { QuestionId } from '../ids/id.ts';
import { textStep } from './entry.ts';
import { withoutOwnMoves } from './own-moves.ts';
import { pastedPassages, sittingsOf, type TrailLine } from './sittings.ts';

const ONE = 'one' as QuestionId;
const TWO = 'two' as QuestionId;

/** A trail of an answer's texts, the letters pasted beside each. */
function trail(...steps: [subject: QuestionId, text: string, pasted?: number][]): TrailLine[] {
  const now = new Map<QuestionId, string>();
  return steps.map(([subject, text, pasted = 0], i) => {
    const step = textStep(now.get(subject) ?? '', text, pasted);
    now.set(subject, text);
    return { at: i * 1000, subject, step };
  });
}
const passages = (lines: TrailLine[]) => pastedPassages(withoutOwnMoves(lines)).map((p) => p.text);

describe('pasted passages', () => {
  const owl = 'The owl sleeps in the old barn by day.';
  const wren = 'The wren sings all the morning long.';

  test('words that were cut here and set there again are the student’s own', () => {
    const lines = trail([ONE, `${owl} ${wren}`], [ONE, wren], [ONE, `${wren} ${owl}`, owl.length + 1]);
    expect(pastedPassages(lines)).toHaveLength(1);
    expect(passages(lines)).toEqual([]);
    expect(sittingsOf(withoutOwnMoves(lines))[0]!.pasted).toBe(0);
  });

  test('and so are words that were copied from one answer into another', () => {
    expect(passages(trail([ONE, owl], [TWO, owl, owl.length]))).toEqual([]);
  });

  test('words from elsewhere are told, once, however often they are moved', () => {
    const lines = trail([ONE, owl, owl.length], [ONE, ''], [TWO, owl, owl.length]);
    expect(passages(lines)).toEqual([owl]);
  });

  test('a few of one’s own words among others are pasted all the same', () => {
    const mixed = `${owl} So says the book of birds, on page nine.`;
    expect(passages(trail([ONE, owl], [TWO, mixed, mixed.length]))).toEqual([mixed]);
  });

  test('nothing else of a trail is changed', () => {
    const lines = trail([ONE, owl], [ONE, ''], [TWO, wren, 3]);
    expect(withoutOwnMoves(lines)).toEqual(lines);
  });
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { MarkId, QuestionId } from '../ids/id.ts';
import { replayText, textStep } from './entry.ts';
import { pastedPassages, sittingsOf, type TrailLine, TrailReader, wayOf } from './sittings.ts';

const MINUTE = 60_000;
const q = (n: number) => testId<QuestionId>(n);
const stroke = (n: number) => testId<MarkId>(500 + n);

/** A trail of changes to three answers and some strokes, with the texts as they stood after each line. */
const trails = fc
  .array(
    fc.record({
      gap: fc.nat(20 * MINUTE),
      act: fc.nat(5),
      n: fc.nat(2),
      text: fc.string({ maxLength: 40 }),
    }),
    { minLength: 1, maxLength: 700 },
  )
  .map((steps) => {
    let at = 0;
    const now = new Map<string, string>();
    return steps.map(({ gap, act, n, text }): TrailLine => {
      at += gap;
      if (act === 0) return { at, subject: stroke(n), step: ['+', 9] };
      if (act === 1) return { at, subject: stroke(n), step: ['-'] };
      const subject = q(n);
      const step = textStep(now.get(subject) ?? '', text, act === 2 ? text.length : 0);
      now.set(subject, text);
      return { at, subject, step };
    });
  });

describe('how a copy came to be', () => {
  test('any moment is read as if every line before it had been replayed', () => {
    fc.assert(
      fc.property(trails, fc.array(fc.nat(800), { maxLength: 8 }), (lines, moments) => {
        const reader = new TrailReader(lines);
        for (const moment of moments) {
          const slow = new Map<string, string>();
          const drawn = new Set<string>();
          for (const { subject, step } of lines.slice(0, moment)) {
            if (step[0] === 't') slow.set(subject, replayText(slow.get(subject) ?? '', step));
            else if (step[0] === '+') drawn.add(subject);
            else drawn.delete(subject);
          }
          const fast = reader.at(moment);
          expect(new Map(fast.answers)).toEqual(slow);
          expect(new Set(fast.strokes)).toEqual(drawn);
        }
      }),
      { seed: 61, numRuns: 60 },
    );
  });

  test('sittings cover every line once, in order, and no pause inside one is long', () => {
    fc.assert(
      fc.property(trails, (lines) => {
        const sittings = sittingsOf(lines);
        expect(sittings[0]!.first).toBe(0);
        expect(sittings.at(-1)!.end).toBe(lines.length);
        for (const [i, s] of sittings.entries()) {
          if (i) expect(s.first).toBe(sittings[i - 1]!.end);
          for (let k = s.first + 1; k < s.end; k++)
            expect(lines[k]!.at - lines[k - 1]!.at).toBeLessThan(10 * MINUTE);
        }
      }),
      { seed: 62, numRuns: 60 },
    );
    expect(sittingsOf([])).toEqual([]);
  });

  test('two sittings of one evening, with what was added, taken away and pasted', () => {
    const lines: TrailLine[] = [
      { at: 0, subject: q(1), step: ['t', 0, 0, 'the hill'] },
      { at: 2 * MINUTE, subject: q(1), step: ['t', 4, 4, 'tarn'] },
      { at: 30 * MINUTE, subject: q(1), step: ['t', 8, 0, ' is deep and cold', 17] },
      { at: 31 * MINUTE, subject: stroke(1), step: ['+', 12] },
    ];
    expect(sittingsOf(lines)).toEqual([
      { from: 0, to: 2 * MINUTE, first: 0, end: 2, added: 12, taken: 4, pasted: 0, strokes: 0 },
      { from: 30 * MINUTE, to: 31 * MINUTE, first: 2, end: 4, added: 17, taken: 0, pasted: 17, strokes: 1 },
    ]);
    expect(pastedPassages(lines)).toEqual([{ line: 2, text: ' is deep and cold' }]);
    expect(wayOf(lines, q(1)).map((w) => w.text)).toEqual([
      'the hill',
      'the tarn',
      'the tarn is deep and cold',
    ]);
  });
});

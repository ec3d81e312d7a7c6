import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import { boxAround } from '../geometry/box.ts';
import type { MarkId, PhraseId } from '../ids/id.ts';
import type { InkMark, Mark } from '../marks/mark.ts';
import { coverOf } from '../marks/place.ts';
import { readBank, writeBankCsv, writeBankFile } from './file.ts';
import { inkBox, inkOf, MOST_STROKES, marksOfInk } from './ink.ts';
import { nearDoubles, withoutDoubles } from './near.ts';
import { type Phrase, plainPhrase } from './phrase.ts';

const phrase = (n: number, words: string): Phrase => ({
  ...plainPhrase(testId<PhraseId>(n), words),
  uses: 0,
  usedAt: null,
  asked: [],
});

describe('what is written by hand', () => {
  const stroke = (n: number, x: number, y: number): InkMark => ({
    v: 2,
    id: testId<MarkId>(n),
    document,
    page: 1,
    colour: 'garnet',
    focus: null,
    madeAt: 1,
    kind: 'ink',
    width: 2,
    points: [x * 100, y * 100, 120, (x + 20) * 100, (y + 6) * 100, 90],
  });
  test('is kept from its corner and put down anywhere as the same strokes', () => {
    const ink = inkOf([stroke(1, 100, 200), stroke(2, 130, 204)])!;
    const [left, top, right, bottom] = inkBox(ink);
    expect([left, top].map(Math.round)).toEqual([0, 0]);
    let n = 10;
    const put = marksOfInk(ink, [50, 60], () => ({
      v: 2,
      id: testId<MarkId>(n++),
      document,
      page: 0,
      focus: 'method',
      madeAt: 9,
    }));
    expect(put.map((m) => [m.page, m.colour, m.focus, m.width])).toEqual([
      [0, 'garnet', 'method', 2],
      [0, 'garnet', 'method', 2],
    ]);
    const back = inkOf(put)!;
    expect(back).toEqual(ink);
    const cover = boxAround(put.map(coverOf))!;
    expect(cover[0]).toBeCloseTo(50 + left, 1);
    expect(cover[2] - cover[0]).toBeCloseTo(right - left, 1);
    expect(cover[3] - cover[1]).toBeCloseTo(bottom - top, 1);
  });

  test('is nothing where other marks are among it, and no page', () => {
    const note = {
      ...stroke(3, 0, 0),
      kind: 'note',
      place: { on: 'spot', x: 1, y: 1 },
      words: '',
    } as unknown as Mark;
    expect(inkOf([])).toBeNull();
    expect(inkOf([stroke(1, 0, 0), note])).toBeNull();
    expect(inkOf(Array.from({ length: MOST_STROKES + 1 }, (_, i) => stroke(i + 1, i, 0)))).toBeNull();
  });

  test('goes into the file of a bank and not into its table; two that are called the same are two', () => {
    const one = { ...phrase(1, 'By hand 1'), ink: inkOf([stroke(1, 0, 0)]) };
    const other = { ...phrase(2, 'By hand 1'), ink: inkOf([stroke(1, 5, 0), stroke(2, 9, 9)]) };
    const read = readBank(writeBankFile([one, other]));
    expect(read.ok && read.phrases.map((p) => p.ink)).toEqual([one.ink, other.ink]);
    expect(writeBankCsv([one, phrase(3, 'Words')])).not.toContain('By hand');
    expect(withoutDoubles([one], [one, other]).fresh).toEqual([other]);
    expect(nearDoubles([one, other])).toEqual([]);
  });
});

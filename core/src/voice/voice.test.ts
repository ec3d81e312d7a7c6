import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { DocumentId, MarkId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { captionAt, captionsOf, captionText } from './captions.ts';
import { clockOf } from './recording.ts';
import { marksAt, placeAt, scoreOf } from './score.ts';

const id = (n: number) => `00000000-0000-7000-8000-${String(n).padStart(12, '0')}` as MarkId;
const document = id(999) as unknown as DocumentId;
const base = (n: number) => ({
  v: 2 as const,
  id: id(n),
  document,
  page: n % 3,
  colour: 'garnet' as const,
  focus: null,
  madeAt: 0,
});
const stroke = (n: number, points = 10): Mark => ({
  ...base(n),
  kind: 'ink',
  width: 1.5,
  points: Array.from({ length: points }, (_, i) => [i * 100, n * 100, 128]).flat(),
});
const tick = (n: number): Mark => ({
  ...base(n),
  kind: 'stamp',
  x: 10,
  y: 10,
  size: 20,
  turn: 0,
  look: { of: 'sign', sign: 'tick' },
  points: null,
});

describe('the score of a talk', () => {
  /** Marks, of which some were made in a talk, each when. */
  const talks = fc
    .array(
      fc.record({
        stroke: fc.boolean(),
        tied: fc.boolean(),
        from: fc.integer({ min: 0, max: 60_000 }),
        long: fc.integer({ min: 0, max: 4000 }),
      }),
      { maxLength: 25 },
    )
    .map((list) => ({
      marks: list.map((m, n) => (m.stroke ? stroke(n) : tick(n))),
      talk: {
        made: list.flatMap((m, n) => (m.tied ? [{ mark: id(n), from: m.from, to: m.from + m.long }] : [])),
        seen: [],
      },
      end: Math.max(0, ...list.map((m) => m.from + m.long)),
    }));

  test('at the end all marks stand, the very same', () => {
    fc.assert(
      fc.property(talks, ({ marks, talk, end }) => {
        expect(marksAt(scoreOf(talk, marks), end)).toBe(marks);
      }),
      { seed: 13 },
    );
  });

  test('before its moment none stands, from its end on all of it, and between them its beginning', () => {
    fc.assert(
      fc.property(talks, fc.integer({ min: 0, max: 65_000 }), ({ marks, talk }, ms) => {
        const at = marksAt(scoreOf(talk, marks), ms);
        for (const mark of marks) {
          const when = talk.made.find((m) => m.mark === mark.id);
          const now = at.find((m) => m.id === mark.id);
          if (!when || ms >= when.to) expect(now).toBe(mark);
          else if (ms < when.from) expect(now).toBeUndefined();
          else if (now?.kind === 'ink' && mark.kind === 'ink') {
            expect(mark.points.slice(0, now.points.length)).toEqual(now.points);
            expect(now.points.length % 3).toBe(0);
          }
        }
      }),
      { seed: 13 },
    );
  });

  test('what is written only grows as time goes on', () => {
    fc.assert(
      fc.property(
        talks,
        fc.integer({ min: 0, max: 65_000 }),
        fc.integer({ min: 0, max: 5000 }),
        ({ marks, talk }, ms, more) => {
          const score = scoreOf(talk, marks);
          const size = (list: readonly Mark[]) =>
            list.reduce((n, m) => n + (m.kind === 'ink' ? m.points.length : 30), 0);
          expect(size(marksAt(score, ms + more))).toBeGreaterThanOrEqual(size(marksAt(score, ms)));
        },
      ),
      { seed: 13 },
    );
  });

  test('seeking equals playing: what stands follows from the moment alone', () => {
    fc.assert(
      fc.property(
        talks,
        fc.array(fc.integer({ min: 0, max: 65_000 }), { minLength: 1 }),
        ({ marks, talk }, way) => {
          const played = scoreOf(talk, marks);
          let now: readonly Mark[] = [];
          for (const ms of way) now = marksAt(played, ms);
          expect(now).toEqual(marksAt(scoreOf(talk, marks), way.at(-1)!));
        },
      ),
      { seed: 13 },
    );
  });

  test('a mark that was deleted since is no part of it; one that is no part of it always stands', () => {
    const talk = {
      made: [
        { mark: id(1), from: 1000, to: 2000 },
        { mark: id(2), from: 3000, to: 3500 },
      ],
      seen: [],
    };
    const score = scoreOf(talk, [stroke(0), stroke(2)]);
    expect(marksAt(score, 0).map((m) => m.id)).toEqual([id(0)]);
    expect(score.when.has(id(1))).toBe(false);
  });

  test('half of a stroke is its first points, half of an arrow reaches half way, half of a band ends half way through its words', () => {
    const arrow: Mark = { ...base(1), kind: 'arrow', from: [0, 0], to: [100, 40], width: 2 };
    const band: Mark = {
      ...base(2),
      kind: 'highlight',
      place: {
        on: 'passage',
        bands: [
          [10, 0, 50, 10],
          [10, 12, 50, 22],
        ],
        quote: { exact: 'two lines', prefix: '', suffix: '', start: 0, end: 9 },
      },
    };
    const talk = { made: [0, 1, 2].map((n) => ({ mark: id(n), from: 0, to: 1000 })), seen: [] };
    const [ink, half, bands] = marksAt(scoreOf(talk, [stroke(0, 10), arrow, band]), 500);
    expect(ink).toMatchObject({ points: (stroke(0, 10) as { points: number[] }).points.slice(0, 15) });
    expect(half).toMatchObject({ from: [0, 0], to: [50, 20] });
    expect(bands).toMatchObject({ place: { bands: [[10, 0, 50, 10]] } });
  });

  test('the page goes along: to where it is written, or to where one turned last', () => {
    const talk = {
      made: [
        { mark: id(1), from: 1000, to: 2000 },
        { mark: id(2), from: 5000, to: 6000 },
      ],
      seen: [{ at: 3000, document, page: 7 }],
    };
    const score = scoreOf(talk, [stroke(1), stroke(2)]);
    expect(placeAt(score, 500)).toBeNull();
    expect(placeAt(score, 1500)).toMatchObject({ page: 1, mark: { id: id(1) } });
    expect(placeAt(score, 3500)).toMatchObject({ page: 7, mark: null });
    expect(placeAt(score, 9000)).toMatchObject({ page: 2, mark: { id: id(2) } });
  });
});

describe('captions', () => {
  test('a text that nobody timed: a sentence a caption, each its share of the time by its letters', () => {
    expect(captionsOf('Look here. Then there!\nAnd again.', 30_000, [])).toEqual([
      { at: 0, words: 'Look here.' },
      { at: 9706, words: 'Then there!' },
      { at: 20_294, words: 'And again.' },
    ]);
    expect(captionsOf('  \n ', 1000, [])).toEqual([]);
  });

  test('corrected words keep their moment, a line between two others comes between them', () => {
    const before = [
      { at: 0, words: 'Look at the sale.' },
      { at: 4000, words: 'It says 1 cm.' },
    ];
    expect(captionsOf('Look at the scale.\nIt says 1 cm.', 9000, before)).toEqual([
      { at: 0, words: 'Look at the scale.' },
      { at: 4000, words: 'It says 1 cm.' },
    ]);
    const more = captionsOf('Look at the sale.\nIs it there?\nIt says 1 cm.', 9000, before);
    expect(more.map((c) => c.words)).toEqual(['Look at the sale.', 'Is it there?', 'It says 1 cm.']);
    expect(more[1]!.at).toBeGreaterThan(0);
    expect(more[1]!.at).toBeLessThan(4000);
  });

  test('moments never go back, and the same text changes nothing', () => {
    const lines = fc.array(fc.stringMatching(/^[a-z]{1,9}$/), { maxLength: 12 });
    fc.assert(
      fc.property(lines, lines, (first, second) => {
        const before = captionsOf(first.join('\n'), 60_000, []);
        expect(captionsOf(captionText(before), 60_000, before)).toEqual(before);
        const after = captionsOf(second.join('\n'), 60_000, before);
        expect(after.map((c) => c.words)).toEqual(second);
        for (const [i, c] of after.entries()) expect(c.at).toBeGreaterThanOrEqual(after[i - 1]?.at ?? 0);
        expect(Math.max(0, ...after.map((c) => c.at))).toBeLessThanOrEqual(60_000);
      }),
      { seed: 13 },
    );
  });

  test('which is said at a moment', () => {
    const captions = [
      { at: 500, words: 'a' },
      { at: 2000, words: 'b' },
    ];
    expect([0, 500, 1999, 2000, 9999].map((ms) => captionAt(captions, ms))).toEqual([-1, 0, 0, 1, 1]);
  });
});

test('moments are read as on a clock', () => {
  expect([0, 999, 65_400, 600_000, 3_725_000].map(clockOf)).toEqual([
    '0:00',
    '0:00',
    '1:05',
    '10:00',
    '1:02:05',
  ]);
});

import { describe, expect, test } from 'vitest';
import type { Box } from '../geometry/box.ts';
import type { PageText } from '../passage/text-layer.ts';
import { findPlaces, labelIn, namePlace, pointsIn } from './find-places.ts';
import { NO_SHAPES, type PageShapes } from './shapes.ts';

const PAGE = { width: 595, height: 842 };

/** A page of lines as they would be read: each word 6 points a letter, 12 high. */
function page(...lines: [x: number, y: number, words: string][]): PageText {
  const words: PageText['words'][number][] = [];
  const out: PageText['lines'][number][] = [];
  for (const [x, y, text] of lines) {
    const from = words.length;
    let at = x;
    for (const word of text.split(' ')) {
      words.push({ text: word, box: [at, y, at + 6 * word.length, y + 12] });
      at += 6 * word.length + 4;
    }
    out.push({ from, to: words.length, box: [x, y, at - 4, y + 12], along: 'x' });
  }
  return { words, lines: out };
}

const shapes = (part: Partial<PageShapes>): PageShapes => ({ ...NO_SHAPES, ...part });
const rule = (x: number, y: number, width: number): Box => [x, y - 0.4, x + width, y + 0.4];
const dashes = (n: number) => '_'.repeat(n);

describe('likely answer places', () => {
  test('a run of underscores is a typed line, with its number and points', () => {
    const found = findPlaces(
      0,
      page([60, 100, '2 b) Name the hut. (3 points)'], [60, 125, dashes(30)]),
      NO_SHAPES,
      PAGE,
    );
    expect(found).toEqual([
      { page: 0, box: [60, 122, 240, 138], answer: { kind: 'line' }, label: '2b', points: 300 },
    ]);
  });

  test('a unit right behind makes it a number with that unit', () => {
    const [found] = findPlaces(
      0,
      page([60, 100, '1. How far?'], [60, 125, `${dashes(12)} km`]),
      NO_SHAPES,
      PAGE,
    );
    expect(found).toMatchObject({ answer: { kind: 'number', unit: 'km' }, label: '1', points: null });
  });

  test('lines of underscores below each other are one paragraph on that many lines', () => {
    const found = findPlaces(
      0,
      page([60, 100, '4 Explain. [4]'], [60, 125, dashes(60)], [60, 150, dashes(60)], [60, 175, dashes(60)]),
      NO_SHAPES,
      PAGE,
    );
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({ answer: { kind: 'paragraph', lines: 3 }, label: '4', points: 400 });
    // Three lines, 25 points apart.
    expect(found[0]!.box[3] - found[0]!.box[1]).toBe(75);
  });

  test('ruled lines: one is a line, several at even distances a paragraph; an underlined headline is none', () => {
    const found = findPlaces(
      0,
      page([60, 60, 'Reading the map'], [60, 100, '1 Where?'], [60, 180, '2 Why? (2 points)']),
      shapes({
        rules: [
          rule(60, 74, 90),
          rule(60, 140, 300),
          rule(60, 220, 400),
          rule(60, 244, 400),
          rule(60, 268, 400),
        ],
      }),
      PAGE,
    );
    expect(found.map((f) => [f.label, f.answer, f.points])).toEqual([
      ['1', { kind: 'line' }, null],
      ['2', { kind: 'paragraph', lines: 3 }, 200],
    ]);
    expect(found[1]!.box).toEqual([60, 196, 460, 268]);
  });

  test('an empty box takes a paragraph, a low one a line, one to draw in a drawing; one with words in it nothing', () => {
    const found = findPlaces(
      0,
      page(
        [60, 80, '1 Say why.'],
        [60, 210, '2 Draw the sign. (1 point)'],
        [60, 330, '3 Name it.'],
        [80, 432, 'Example of a sign'],
      ),
      shapes({
        boxes: [
          [60, 100, 400, 180],
          [60, 230, 260, 310],
          [60, 350, 260, 366],
          [60, 420, 400, 460],
        ],
      }),
      PAGE,
    );
    expect(found.map((f) => [f.label, f.answer.kind])).toEqual([
      ['1', 'paragraph'],
      ['2', 'drawing'],
      ['3', 'line'],
    ]);
  });

  test('squares of a map are no places, and neither is the line for the name', () => {
    const grid: Box[] = [];
    for (let x = 0; x < 6; x++)
      for (let y = 0; y < 5; y++) grid.push([100 + 40 * x, 200 + 40 * y, 140 + 40 * x, 240 + 40 * y]);
    const text = page([360, 40, 'Name'], [60, 500, '1 Where?']);
    const found = findPlaces(
      0,
      text,
      shapes({ boxes: grid, rules: [rule(390, 52, 150), rule(60, 540, 200)] }),
      PAGE,
    );
    expect(found.map((f) => f.label)).toEqual(['1']);
    expect(namePlace(text)).toEqual({ x: 389, y: 49.12 });
    expect(findPlaces(0, page([60, 40, `Name:${dashes(20)}`]), NO_SHAPES, PAGE)).toEqual([]);
  });

  test('tick boxes with words behind them are one choice', () => {
    const square = (x: number, y: number): Box => [x, y, x + 10, y + 10];
    const found = findPlaces(
      0,
      page([60, 80, '5 Which is steeper?'], [80, 100, 'the north side'], [80, 120, 'the south side']),
      shapes({ boxes: [square(62, 101), square(62, 121)] }),
      PAGE,
    );
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({
      label: '5',
      answer: { kind: 'choice', options: ['the north side', 'the south side'], several: false },
    });
  });

  test('form fields come first, and what lies under them is not offered twice', () => {
    const found = findPlaces(
      0,
      page([60, 100, '1 Where?'], [60, 125, dashes(30)]),
      shapes({
        fields: [
          { kind: 'text', name: 'where', boxes: [[60, 122, 240, 140]], options: [] },
          {
            kind: 'choice',
            name: 'side',
            boxes: [
              [60, 200, 72, 212],
              [120, 200, 132, 212],
            ],
            options: ['north', 'south'],
          },
        ],
      }),
      PAGE,
    );
    expect(found.map((f) => f.answer)).toEqual([
      { kind: 'line' },
      { kind: 'choice', options: ['north', 'south'], several: false },
    ]);
  });

  test('a letter alone belongs to the number before it', () => {
    const found = findPlaces(
      0,
      page(
        [60, 80, '3 Distances'],
        [60, 110, 'a) to the hut'],
        [60, 130, dashes(20)],
        [60, 190, 'b) to the light (1.5 points)'],
        [60, 210, dashes(20)],
      ),
      NO_SHAPES,
      PAGE,
    );
    expect(found.map((f) => [f.label, f.points])).toEqual([
      ['3a', null],
      ['3b', 150],
    ]);
  });

  test('a page with nothing on it offers nothing', () => {
    expect(findPlaces(0, page(), NO_SHAPES, PAGE)).toEqual([]);
  });
});

describe('what is printed beside a place', () => {
  test.each([
    ['2 b) Why?', { number: 2, letter: 'b' }],
    ['2b Why?', { number: 2, letter: 'b' }],
    ['(c) Why?', { number: null, letter: 'c' }],
    ['12. Why?', { number: 12, letter: '' }],
    ['Question 4: why?', { number: 4, letter: '' }],
    ['Why 3?', null],
    ['1998 was cold', null],
  ])('%s', (line, read) => {
    expect(labelIn(line.split(' '))).toEqual(read);
  });

  test.each([
    ['(3 points)', 300],
    ['1 point', 100],
    ['Explain it. [4]', 400],
    ['(2,5 pts)', 250],
    ['(½ point)', null],
    ['(1½ points)', 150],
    ['5 marks', 500],
    ['It is 3 km', null],
  ])('%s is worth %s', (line, points) => {
    expect(pointsIn(line.split(' '))).toBe(points);
  });
});

import { describe, expect, test } from 'vitest';
import type { Box } from '../geometry/box.ts';
import type { QuestionId } from '../ids/id.ts';
import type { PageText } from '../passage/text-layer.ts';
import { findPlaces, readPlace } from './find-places.ts';
import { numberQuestions, type Question } from './question.ts';
import { NO_SHAPES } from './shapes.ts';

/** Pages on which places were once found wrong, or not at all. */
const PAGE = { width: 595, height: 842 };

/** Words at their places, each 6 points a letter, 12 high; words of one height are one line. */
function page(...words: [x: number, y: number, text: string][]): PageText {
  const all = words.flatMap(([x, y, text]) => {
    let at = x;
    return text.split(' ').map((word) => {
      const box: Box = [at, y, at + 6 * word.length, y + 12];
      at = box[2] + 4;
      return { text: word, box };
    });
  });
  const lines: PageText['lines'][number][] = [];
  for (const [i, w] of all.entries()) {
    const last = lines.at(-1);
    if (last && last.box[1] === w.box[1] && w.box[0] - last.box[2] < 60)
      lines[lines.length - 1] = {
        ...last,
        to: i + 1,
        box: [last.box[0], last.box[1], w.box[2], last.box[3]],
      };
    else lines.push({ from: i, to: i + 1, box: w.box, along: 'x' });
  }
  return { words: all, lines };
}
const line = (n: number) => '_'.repeat(n);
const find = (text: PageText, part: Partial<typeof NO_SHAPES> = {}) =>
  findPlaces(0, text, { ...NO_SHAPES, ...part }, PAGE);

describe('places that were found wrong', () => {
  test('two lines below one printed number are its parts; no number stands twice', () => {
    const found = find(
      page(
        [60, 100, '1 Name a bird that flies by night and one that does not. (2 points)'],
        [60, 130, line(20)],
        [260, 130, line(20)],
        [60, 200, '2 Where do they sleep?'],
        [60, 230, line(50)],
      ),
    );
    expect(found.map((f) => [f.label, f.points])).toEqual([
      ['1a', 200],
      ['1b', null],
      ['2', null],
    ]);
  });

  test('a place before the first number gets none that is printed', () => {
    const q = (id: string, y: number, label: string | null): Question => ({
      id: id as QuestionId,
      page: 0,
      box: [60, y, 300, y + 20],
      part: false,
      label,
      points: null,
      answer: { kind: 'line' },
    });
    const numbers = numberQuestions([
      q('a', 50, null),
      q('b', 100, '1'),
      q('c', 150, null),
      q('d', 200, '2'),
    ]);
    expect(new Set(numbers.values()).size).toBe(4);
    expect([numbers.get('b' as QuestionId), numbers.get('d' as QuestionId)]).toEqual(['1', '2']);
  });

  test('boxes in a line are one choice: drawn ones, and those that are letters', () => {
    const box = (x: number): Box => [x, 131, x + 10, 141];
    const drawn = find(
      page([60, 100, '1 Which?'], [74, 130, 'owl'], [134, 130, 'wren'], [204, 130, 'gull']),
      {
        boxes: [box(60), box(120), box(190)],
      },
    );
    const typed = find(page([60, 100, '1 Which?'], [60, 130, '☐ owl ☐ wren ☐gull']));
    const office = find(page([60, 100, '1 Which?'], [60, 130, '\uf06f owl \uf06f wren \uf0a8gull']));
    for (const found of [drawn, typed, office])
      expect(found).toMatchObject([
        { label: '1', answer: { kind: 'choice', options: ['owl', 'wren', 'gull'], several: false } },
      ]);
  });

  test('short lines in one row, with words beside them, are each their own', () => {
    const found = find(
      page(
        [60, 100, '3 Fill in.'],
        [60, 130, `a) ${line(10)}`],
        [260, 130, `b) ${line(10)}`],
        [60, 160, `c) ${line(10)}`],
        [260, 160, `d) ${line(10)}`],
      ),
    );
    expect(found.map((f) => [f.label, f.answer.kind])).toEqual([
      ['3a', 'line'],
      ['3b', 'line'],
      ['3c', 'line'],
      ['3d', 'line'],
    ]);
    // Read as one line from left to right, as many files are.
    const across = find(page([60, 100, '3 Fill in.'], [60, 130, `a) ${line(10)} b) ${line(10)}`]));
    expect(across.map((f) => f.label)).toEqual(['3a', '3b']);
    const cloze = find(
      page([60, 100, `The ${line(8)} of ${line(8)} is`], [60, 125, `The ${line(8)} is ${line(8)} too.`]),
    );
    expect(cloze).toHaveLength(4);
  });

  test('the empty cells of a table with heads are places; a map’s squares are none', () => {
    const cells: Box[] = [];
    for (let row = 0; row < 4; row++)
      for (let k = 0; k < 4; k++) cells.push([60 + 100 * k, 200 + 24 * row, 160 + 100 * k, 224 + 24 * row]);
    const heads = page(
      [64, 204, 'Bird'],
      [164, 204, 'Food'],
      [264, 204, 'Nest'],
      [364, 204, 'Song'],
      [64, 228, 'owl'],
      [64, 252, 'wren'],
      [64, 276, 'gull'],
    );
    expect(find(heads, { boxes: cells })).toHaveLength(9);
    const squares = cells.map(([l, t], i): Box => [60 + 24 * (i % 4), t, 84 + 24 * (i % 4), t + 24 + 0 * l]);
    expect(find(page([60, 100, 'The map']), { boxes: squares })).toEqual([]);
  });

  test('a region drawn by hand reads the number and the points beside it', () => {
    const text = page(
      [60, 100, '3 The owl. (5 points)'],
      [60, 200, 'a) Where does it sleep? (1 point)'],
      [60, 300, 'b) What does it eat?'],
    );
    const read = (box: Box) => {
      const { label, points } = readPlace(0, box, { kind: 'line' }, text);
      return [label, points];
    };
    expect(read([60, 220, 300, 250])).toEqual(['3a', 100]);
    expect(read([60, 320, 300, 350])[0]).toBe('3b');
    expect(read([60, 20, 300, 40])).toEqual([null, null]);
  });
});

import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type DrawnLine, inReadOrder } from './reading-order.ts';
import { MOST_WORDS_OF_A_PAGE, PageText, type Word } from './text-layer.ts';

/** A line of one word for each of its words, a letter 6 wide. */
function line(text: string, left: number, top: number): DrawnLine {
  let x = left;
  const words = text.split(' ').map((word) => {
    const box = [x, top + 1, x + word.length * 6, top + 11] as const;
    x += word.length * 6 + 4;
    return { text: word, box };
  });
  return { words, box: [left, top, x - 4, top + 12], along: 'x' };
}
const read = (...lines: DrawnLine[]) =>
  inReadOrder(lines)
    .words.map((w) => w.text)
    .join(' ');

test('answers that are written into a page later are read at their questions, without the blanks below them', () => {
  expect(
    read(
      line('1 Where is it?', 50, 100),
      line('_______________', 50, 120),
      line('2 Why?', 50, 150),
      line('_______________', 50, 170),
      line('_______________', 50, 190),
      line('behind', 52, 118),
      line('since nobody', 52, 168),
      line('looked there', 52, 188),
    ),
  ).toBe('1 Where is it? behind 2 Why? since nobody looked there');
});

test('a blank on which nobody wrote stays, and so does one beside what was written', () => {
  expect(read(line('Name: _______', 50, 100), line('Ada', 300, 100))).toBe('Name: _______ Ada');
});

test('columns that are drawn one after the other are read so, below a head line drawn last and above a foot line drawn first', () => {
  expect(
    read(
      line('a foot line over the whole of the page', 50, 700),
      line('left one', 50, 100),
      line('left two', 50, 120),
      line('right one', 200, 100),
      line('right two', 200, 120),
      line('a head line over the whole of the page', 50, 60),
    ),
  ).toBe(
    'a head line over the whole of the page left one left two right one right two a foot line over the whole of the page',
  );
});

test('in one column the order of drawing does not matter', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 12 }), fc.infiniteStream(fc.nat()), (count, random) => {
      const lines = Array.from({ length: count }, (_, i) => line(`w${i}`, 50, 100 + i * 14));
      const shuffled = lines
        .map((l) => ({ l, at: random.next().value as number }))
        .sort((a, b) => a.at - b.at)
        .map(({ l }) => l);
      expect(read(...shuffled)).toBe(lines.map((_, i) => `w${i}`).join(' '));
    }),
  );
});

test('nothing is lost, nothing comes twice, and each line keeps its words', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 0, max: 800 })), {
        maxLength: 25,
      }),
      (places) => {
        const lines = places.map(([x, y], i) => line(`a${i} b${i}`, x, y));
        const text = inReadOrder(lines);
        expect(text.words.map((w) => w.text).sort()).toEqual(
          lines.flatMap((l) => l.words.map((w) => w.text)).sort(),
        );
        for (const l of text.lines)
          expect(text.words.slice(l.from, l.to).map((w) => w.text.slice(1))).toEqual([
            text.words[l.from]!.text.slice(1),
            text.words[l.from]!.text.slice(1),
          ]);
      },
    ),
  );
});

test('a page may have as many words as anybody could print on it; what is beyond can be kept all the same', () => {
  const word = (n: number): Word => ({ text: `w${n}`, box: [n / 1000, 0, (n + 1) / 1000, 1] });
  const line = (from: number, count: number): DrawnLine => ({
    words: Array.from({ length: count }, (_, i) => word(from + i)),
    box: [from / 1000, 0, (from + count) / 1000, 1],
    along: 'x',
  });
  // One line of so many words is more than a call may have arguments.
  const text = inReadOrder([line(0, 150_000), line(150_000, 60_000), line(210_000, 5)]);
  expect(text.words).toHaveLength(MOST_WORDS_OF_A_PAGE);
  expect(text.lines.map((l) => [l.from, l.to])).toEqual([
    [0, 150_000],
    [150_000, MOST_WORDS_OF_A_PAGE],
  ]);
  expect(PageText.safeParse(text).success).toBe(true);
});

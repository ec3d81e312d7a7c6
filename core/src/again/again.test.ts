import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { DocumentId, MarkId } from '../ids/id.ts';
import type { MarginMark, Mark } from '../marks/mark.ts';
import { quoteOf } from '../passage/quote.ts';
import { caretAfter } from '../passage/select.ts';
import { bandsOver, type PageText } from '../passage/text-layer.ts';
import { align } from './align.ts';
import { carryMarks, type PageOf } from './carry.ts';
import { compareHandIns } from './compare.ts';
import { matchPages } from './match-pages.ts';

/** A page whose lines are these, each 20 pt below the one before, each word 10 pt a letter. */
function page(...lines: string[]): PageText {
  const words: { text: string; box: [number, number, number, number] }[] = [];
  const out: PageText['lines'] = [];
  for (const [n, line] of lines.entries()) {
    const from = words.length;
    let x = 50;
    for (const text of line.split(' ').filter(Boolean)) {
      words.push({ text, box: [x, 100 + 20 * n, x + 10 * text.length, 114 + 20 * n] });
      x += 10 * text.length + 5;
    }
    if (words.length > from)
      out.push({ from, to: words.length, box: [50, 98 + 20 * n, x, 116 + 20 * n], along: 'x' });
  }
  return { words, lines: out };
}
const second = testId<DocumentId>(77);
const pagesOf = (doc: DocumentId, ...texts: PageText[]): PageOf[] =>
  texts.map((text, n) => ({ document: doc, page: n, text }));

let n = 1;
const base = (at = 0) => ({
  v: 2 as const,
  id: testId<MarkId>(n++),
  document,
  page: at,
  colour: 'lake' as const,
  focus: null,
  madeAt: 1,
});
const where = (text: PageText, words: string) => {
  const all = text.words.map((w) => w.text);
  const some = words.split(' ');
  const from = all.findIndex((_, i) => some.every((w, k) => all[i + k] === w));
  return { from, to: from + some.length - 1 };
};
const over = (text: PageText, words: string) => {
  const range = where(text, words);
  return { on: 'passage' as const, bands: bandsOver(text, range), quote: quoteOf(text, range) };
};
const noteOn = (text: PageText, words: string, at = 0): MarginMark => ({
  ...base(at),
  kind: 'note',
  place: over(text, words),
  words: 'Why?',
});

const first = page(
  'On Sunday we went from the landing stage to the light',
  'It was windy and the tide was low',
  'After about twenty minutes the path goes up',
);
const later = page(
  'On Sunday we went from the landing stage to the light',
  'The wind came from the west and the tide was low',
  'After about twenty minutes the path goes up',
);
const carried = (mark: Mark, before: readonly PageText[], after: readonly PageText[]) =>
  carryMarks([mark], pagesOf(document, ...before), pagesOf(second, ...after))[0]!;

describe('what becomes of a note', () => {
  test('whose words stand as they did: still there, at its place', () => {
    const c = carried(noteOn(first, 'twenty minutes'), [first], [later]);
    expect(c).toMatchObject({ became: 'still', was: 'twenty minutes', is: 'twenty minutes' });
    expect(c.now).toMatchObject({ document: second, page: 0, place: { quote: { exact: 'twenty minutes' } } });
  });

  test('whose words were written anew: changed, and it stands at what came', () => {
    const c = carried(noteOn(first, 'It was windy'), [first], [later]);
    expect(c).toMatchObject({ became: 'changed', was: 'It was windy' });
    expect(c.is).toContain('wind came from the west');
    expect(c.now?.place).toMatchObject({ on: 'passage' });
  });

  test('whose words went with nothing in their place: gone', () => {
    const short = page(
      'On Sunday we went from the landing stage to the light',
      'After about twenty minutes the path goes up',
    );
    expect(carried(noteOn(first, 'windy and the tide'), [first], [short])).toMatchObject({
      became: 'gone',
      now: null,
    });
  });

  test('moved to the next page, or to another place: still there', () => {
    const [top, bottom] = [
      page('A new beginning of four words more'),
      page('Something else', 'After about twenty minutes the path goes up'),
    ];
    const c = carried(noteOn(first, 'about twenty minutes the path'), [first], [top, bottom]);
    expect(c).toMatchObject({ became: 'still', now: { page: 1 } });
  });

  test('at a spot beside a line goes with that line', () => {
    const spot = {
      ...base(),
      kind: 'note',
      place: { on: 'spot', x: 300, y: 145 },
      words: 'Here',
    } as MarginMark;
    const lower = page(
      'A line put in',
      'and one more',
      ...[
        'On Sunday we went from the landing stage to the light',
        'After about twenty minutes the path goes up',
      ],
    );
    const c = carried(
      spot,
      [
        page(
          'On Sunday we went from the landing stage to the light',
          'It was',
          'After about twenty minutes the path goes up',
        ),
      ],
      [lower],
    );
    // What stands beside its words may be what it is about: that is for the teacher to see.
    expect(c.became).toBe('unknown');
    expect(c.now?.place).toMatchObject({ on: 'spot', x: 300 });
    expect((c.now!.place as { y: number }).y).toBeCloseTo(165, 0);
  });

  test('on a page without words it cannot be told, and stands at the same spot', () => {
    const spot = {
      ...base(1),
      kind: 'note',
      place: { on: 'spot', x: 30, y: 40 },
      words: 'Here',
    } as MarginMark;
    const blank: PageText = { words: [], lines: [] };
    expect(carried(spot, [first, blank], [first, later, blank])).toMatchObject({
      became: 'unknown',
      now: { page: 2, place: { x: 30, y: 40 } },
    });
  });
});

describe('what becomes of a suggestion', () => {
  const swap = (words: string): Mark =>
    ({ ...base(), kind: 'swap', place: over(first, 'It was windy'), words }) as Mark;
  test('that was taken, though a comma or a capital is another', () => {
    const taken = page(
      'On Sunday we went from the landing stage to the light',
      'the wind blew, and the tide was low',
      'After about twenty minutes the path goes up',
    );
    expect(carried(swap('The wind blew'), [first], [taken]).became).toBe('taken');
    expect(carried(swap('A gale blew'), [first], [taken]).became).toBe('changed');
  });
  test('to leave words out, and to put some in', () => {
    const cut = { ...base(), kind: 'cut', place: over(first, 'about') } as Mark;
    const without = page(
      'On Sunday we went from the landing stage to the light',
      'It was windy and the tide was low',
      'After twenty minutes the path goes up steeply',
    );
    expect(carried(cut, [first], [without]).became).toBe('taken');
    const add = {
      ...base(),
      kind: 'add',
      place: caretAfter(first, where(first, 'up').to),
      words: 'steeply',
    } as Mark;
    expect(carried(add, [first], [without]).became).toBe('taken');
    expect(carried(add, [first], [later]).became).toBe('still');
  });
});

describe('pages', () => {
  test('are found when one was put in between, one left out, two changed places, one turned', () => {
    const [a, b, c] = [
      page('one two three four five'),
      page('six seven eight nine ten'),
      page('red green blue grey pink'),
    ];
    expect(matchPages([a, b, c], [a, page('quite another page of words'), b, c])).toEqual([0, 2, 3]);
    expect(matchPages([a, b, c], [a, c])).toEqual([0, null, 1]);
    expect(matchPages([a, b, c], [b, a, c]).toSorted()).toEqual([0, 1, 2]);
    // A file that lies there twice: the first.
    expect(matchPages([a, b], [a, b, a, b])).toEqual([0, 1]);
    // A page that is turned has the same words, elsewhere.
    const turned = {
      ...b,
      words: b.words.map((w) => ({
        ...w,
        box: [w.box[1], w.box[0], w.box[3], w.box[2]] as [number, number, number, number],
      })),
    };
    expect(matchPages([a, b, c], [a, turned, c])).toEqual([0, 1, 2]);
  });
});

describe('comparing two hand-ins', () => {
  test('names what went and what came, in the order of reading, and counts the words', () => {
    const c = compareHandIns(pagesOf(document, first), pagesOf(second, later));
    expect(c.changes.map((x) => [x.went, x.came])).toEqual([['It was windy', 'The wind came from the west']]);
    expect([c.came, c.went, c.newPages, c.lostPages]).toEqual([6, 3, [], []]);
    expect(c.changes[0]!.cameAt).toHaveLength(6);
  });

  const word = fc.constantFrom('a', 'b', 'c', 'the', 'hill', 'map', 'north');
  const text = fc
    .array(fc.array(word, { maxLength: 6 }), { maxLength: 8 })
    .map((lines) => page(...lines.map((l) => l.join(' '))));
  const hand = fc.array(text, { minLength: 1, maxLength: 4 });
  test('taking out what went and putting in what came makes the later of the earlier', () => {
    fc.assert(
      fc.property(hand, hand, (before, after) => {
        const { edits, now } = align(before, after);
        const all = (pages: readonly PageText[]) => pages.flatMap((p) => p.words.map((w) => w.text));
        const [came, went] = [edits.flatMap((e) => e.came), edits.flatMap((e) => e.went)];
        const stays = before.flatMap((p, i) => p.words.flatMap((_, k) => now(i, k) ?? []));
        // Each word of the later one either stayed or came, and none twice.
        const keys = [...came, ...stays].map((w) => `${w.page}/${w.word}`);
        expect(new Set(keys).size).toBe(keys.length);
        expect(keys.length).toBe(all(after).length);
        expect(went.length + stays.length).toBe(all(before).length);
        for (const [i, p] of before.entries())
          for (const [k, w] of p.words.entries()) {
            const at = now(i, k);
            if (at) expect(after[at.page]!.words[at.word]!.text).toBe(w.text);
          }
      }),
      { seed: 15, numRuns: 300 },
    );
  });

  test('nothing changed: every note is still there, at the very place', () => {
    fc.assert(
      fc.property(hand, (pages) => {
        const marks = pages.flatMap((p, i) => (p.words.length ? [noteOn(p, p.words[0]!.text, i)] : []));
        for (const c of carryMarks(marks, pagesOf(document, ...pages), pagesOf(second, ...pages))) {
          expect(c.became).toBe('still');
          expect(c.now).toEqual({ ...c.mark, document: second });
        }
      }),
      { seed: 15, numRuns: 200 },
    );
  });
});

import { describe, expect, it } from 'vitest';
import type { PageText } from '../passage/text-layer.ts';
import { namesOnPage } from './names-on-page.ts';

/** Lines of words, each word ten points wide for each of its letters, so that a band says which it covers. */
function page(...lines: string[]): PageText {
  const words: PageText['words'][number][] = [];
  const rows = lines.map((line, i) => {
    const from = words.length;
    let x = 0;
    for (const text of line.split(' ')) {
      words.push({ text, box: [x, i * 20, x + text.length * 10, i * 20 + 12] });
      x += text.length * 10 + 10;
    }
    return { from, to: words.length, box: [0, i * 20, x, i * 20 + 12] as const, along: 'x' as const };
  });
  return { words, lines: rows } as PageText;
}

const covered = (text: PageText, ...students: [given: string, family: string][]) =>
  namesOnPage(
    text,
    students.map(([given, family]) => ({ given, family })),
  ).map(([l, t, r]) =>
    text.words
      .filter((w) => w.box[1] === t && w.box[0] >= l && w.box[2] <= r)
      .map((w) => w.text)
      .join(' '),
  );

describe('names on a page', () => {
  it('both names beside each other, in either order and however they are set', () => {
    const text = page('The work of Ada Finch in class 7B of this school', 'FINCH, ADA', 'adA finch');
    expect(covered(text, ['Ada', 'Finch'])).toEqual(['Ada Finch', 'FINCH, ADA', 'adA finch']);
  });

  it('accents and hyphens make no difference', () => {
    const text = page('We asked Maria-Jose Munoz about the rain in the spring');
    expect(covered(text, ['María José', 'Muñoz'])).toEqual(['Maria-Jose Munoz']);
    expect(covered(page('We asked Al-Li Yu about the rain in the spring'), ['Al-Li', 'Yu'])).toEqual([
      'Al-Li Yu',
    ]);
  });

  it('one name alone behind a label, in a short line or within a sentence', () => {
    const text = page(
      'Name: Ada',
      'written by Finch on the third day of May',
      'and so Ada went to the river alone',
    );
    expect(covered(text, ['Ada', 'Finch'])).toEqual(['Ada', 'Finch', 'Ada']);
  });

  it('a word that only looks like a name is left alone', () => {
    const text = page(
      'Will the water rise? May we ask who will measure it?',
      'Stone is harder than wood, and a stone may be found here',
    );
    expect(covered(text, ['Will', 'Stone'])).toEqual([]);
  });

  it('an address and the name of a file say it too', () => {
    expect(
      covered(page('write to ada.finch@school.example for the whole of the data'), ['Ada', 'Finch']),
    ).toEqual(['ada.finch@school.example']);
    expect(covered(page('AdaFinch7B_essay.docx'), ['Ada', 'Finch'])).toEqual(['AdaFinch7B_essay.docx']);
  });

  it('everyone of a group; nobody else', () => {
    const text = page('Ada and Ben', 'with the help of Cyd from the other class');
    expect(covered(text, ['Ada', 'Finch'], ['Ben', 'Rook'])).toEqual(['Ada', 'Ben']);
  });

  it('a scan has no words', () => {
    expect(namesOnPage({ words: [], lines: [] }, [{ given: 'Ada', family: 'Finch' }])).toEqual([]);
  });
});

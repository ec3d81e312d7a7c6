import { describe, expect, test } from 'vitest';
import { csvFilter, HEAD_BYTES } from './csv-look.ts';

const look = (text: string, encoding: BufferEncoding = 'utf8') => csvFilter(Buffer.from(text, encoding));
/** Its separator, and how its letters are stored. */
const told = (text: string, encoding?: BufferEncoding) =>
  /:(\d+),34,(\d+),/.exec(look(text, encoding) ?? '')?.slice(1);

describe('whether a text is a table', () => {
  test.each([
    ['two lines, the last without an end', 'a;b\nc;d', ['59', '76']],
    ['commas', 'a,b\r\n"c, d",e\r\n', ['44', '76']],
    ['tabs', 'a\tb\n1\t2\n', ['9', '76']],
    ['numbers with a comma between semicolons', 'Month;Rain\nMay;71,5\n', ['59', '76']],
  ])('%s', (_, text, found) => expect(told(text)).toEqual(found));

  test('letters of old Windows are told', () =>
    expect(told('H\u00fcgel;H\u00f6he\n1;2', 'latin1')).toEqual(['59', '1']));

  test.each([
    ['prose', 'We went up, and down.\nIt rained, then not.\n'],
    ['one line', 'a;b;c'],
    ['lines of other lengths', 'a;b\nc;d;e\n'],
    ['nothing', ''],
  ])('%s is none', (_, text) => expect(look(text)).toBeNull());

  test('of a longer file the line that is cut does not count', () => {
    const text = 'one;two\n'.repeat(2000).slice(0, HEAD_BYTES - 5);
    expect(look(`${text}\nlast;`.padEnd(HEAD_BYTES, 'x').slice(0, HEAD_BYTES))).not.toBeNull();
  });
});

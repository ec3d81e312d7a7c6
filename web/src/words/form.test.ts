import { expect, test } from 'vitest';
import { formedBy, listed, nextItem, putIn, type Selected, saidAt, wrapped } from './form.ts';

/** Of “a |b| c” the selection lies between the bars; one bar is the cursor. */
const at = (text: string): Selected => {
  const [before, inside, after] = text.split('|');
  const words = after === undefined ? `${before}${inside}` : `${before}${inside}${after}`;
  const start = before!.length;
  return { words, start, end: after === undefined ? start : start + inside!.length };
};
const shown = ({ words, start, end }: Selected) =>
  start === end
    ? `${words.slice(0, start)}|${words.slice(start)}`
    : `${words.slice(0, start)}|${words.slice(start, end)}|${words.slice(end)}`;

test.each([
  ['a |b| c', 'a **|b|** c'],
  ['a **|b|** c', 'a |b| c'],
  ['a |', 'a **|**'],
])('bold: %s → %s', (before, after) => expect(shown(wrapped(at(before), '**'))).toBe(after));

test.each([
  ['one\nt|wo', 'one\n- two|'],
  ['|one\ntwo|', '- one\n- two|'],
  ['|- one\n- two|', 'one\ntwo|'],
])('list: %j → %j', (before, after) => expect(shown(listed(at(before)))).toBe(after));

test.each([
  ['- one|', '- one\n- |'],
  ['3. one|', '3. one\n4. |'],
  ['- one\n- |', '- one\n|'],
])('a new line in a list: %j → %j', (before, after) => expect(shown(nextItem(at(before))!)).toBe(after));

test('elsewhere a new line is a new line', () => expect(nextItem(at('one|'))).toBeNull());

test('words come in the place of what is selected', () =>
  expect(shown(putIn(at('a |b| c'), 'xy'))).toBe('a xy| c'));

test('keys give words their form; others are left alone', () => {
  const key = (name: string, more = {}) =>
    formedBy({ key: name, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more }, () =>
      at('- |one|'),
    );
  expect(shown(key('b', { ctrlKey: true })!)).toBe('- **|one|**');
  expect(shown(key('i', { metaKey: true })!)).toBe('- *|one|*');
  expect(key('Enter')).not.toBeNull();
  for (const more of [{ ctrlKey: true }, { shiftKey: true }]) expect(key('Enter', more)).toBeNull();
  expect(key('b')).toBeNull();
});

test('words that were said stand where the cursor is, parted by spaces', () => {
  const said = (words: string, at = words.length) => saidAt({ words, start: at, end: at }, 'measure twice');
  expect(said('')).toEqual({ words: 'measure twice', start: 13, end: 13 });
  expect(said('Noor:').words).toBe('Noor: measure twice');
  expect(said('Noor: ').words).toBe('Noor: measure twice');
  expect(said('Now please', 4).words).toBe('Now measure twice please');
});

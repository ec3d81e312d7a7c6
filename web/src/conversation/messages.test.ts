import { type DocumentId, type MarkId, type Message, type MessageId, makeId } from '@jotmark/core';
import { expect, test } from 'vitest';
import type { WordLetter } from '../outbox/letter.ts';
import { isNews, talksOf } from './talk.ts';
import { withWaitingWords } from './useMessages.ts';

const id = <T extends string>(n: number) => makeId(1_790_000_000_000 + n, new Uint8Array(10).fill(n)) as T;
const mark = id<MarkId>(9);
const place = { document: id<DocumentId>(8), page: 0, x: 1, y: 1, mark };
const message = (n: number, over: Partial<Message> = {}): Message => ({
  id: id<MessageId>(n),
  by: 'Tove',
  mine: false,
  at: n,
  words: 'Why?',
  cover: false,
  place,
  act: null,
  unread: true,
  seenAt: null,
  edited: false,
  withdrawn: false,
  ...over,
});
const letter = (n: number, over: Partial<WordLetter> = {}): WordLetter => ({
  type: 'word',
  id: id<MessageId>(n),
  words: 'Because.',
  place,
  ...over,
});

test('what waits to be sent stands behind what was said, once, and is done at its note already', () => {
  const said = [message(1)];
  const heard = withWaitingWords(said, [letter(2), letter(3, { words: '', act: 'sorted' })])!;
  expect(heard.map((m) => [m.words, m.mine, m.waits ?? false])).toEqual([
    ['Why?', false, false],
    ['Because.', true, true],
    ['', true, true],
  ]);
  expect(heard[1]!.at).toBe(1_790_000_000_002);
  expect(talksOf(heard).get(mark)).toMatchObject({ act: 'sorted', unread: 1 });
  // Sent meanwhile, and heard of: it is the same message.
  expect(withWaitingWords([...said, message(2, { mine: true })], [letter(2)])).toHaveLength(2);
  expect(withWaitingWords(said, [])).toBe(said);
  expect(withWaitingWords(undefined, [])).toBeUndefined();
  expect(withWaitingWords(undefined, [letter(2)])).toHaveLength(1);
});

test('what was done with a note of an earlier hand-in counts no more; what waits here was done just now', () => {
  const sorted = message(5, { act: 'sorted', words: '' });
  expect(talksOf([sorted], sorted.at).get(mark)).toMatchObject({ act: 'sorted' });
  expect(talksOf([sorted], sorted.at + 1).get(mark)).toMatchObject({ act: null, messages: [sorted] });
  const waits = withWaitingWords([], [letter(6, { words: '', act: 'sorted' })])!;
  expect(talksOf(waits, waits[0]!.at + 1_000_000).get(mark)).toMatchObject({ act: 'sorted' });
});

test('what was only done is no news', () => {
  expect(
    [message(1), message(1, { act: 'sorted', words: '' }), message(1, { act: 'declined' })].map(isNews),
  ).toEqual([true, false, true]);
});

import {
  type DocumentId,
  type HandInId,
  type MarkId,
  makeId,
  type NoteMark,
  type Phrase,
  type PhraseId,
} from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { keys } from '../ask/keys.ts';
import { PhraseGhosts } from './PhraseGhosts.tsx';

const call = vi.hoisted(() => vi.fn());
vi.mock('../api/call.ts', async (real) => ({ ...(await real<object>()), call }));
beforeEach(() => {
  call.mockReset();
  call.mockResolvedValue(undefined);
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const phrase = (n: number, words: string, over: Partial<Phrase> = {}): Phrase => ({
  id: id<PhraseId>(n),
  words,
  group: '',
  focus: null,
  uses: 0,
  usedAt: null,
  ...over,
});
const BANK = [
  phrase(1, 'Count the squares again: is [words] left of the line?'),
  phrase(2, '[name], say how many [what] you see.'),
  phrase(3, 'Squares have four sides.'),
];
const note: NoteMark = {
  v: 2,
  id: id<MarkId>(9),
  document: id<DocumentId>(8),
  page: 0,
  colour: 'lake',
  focus: 'method',
  madeAt: 1,
  kind: 'note',
  place: { on: 'passage', bands: [], quote: { exact: '34 76', prefix: '', suffix: '', start: 0, end: 5 } },
  words: '',
};

function writing(bank: readonly Phrase[] = BANK) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY } } });
  client.setQueryData(keys.bank, [...bank]);
  function Card() {
    const [words, setWords] = useState('');
    return (
      <article>
        <textarea aria-label="Words" value={words} onChange={(e) => setWords(e.target.value)} />
        <PhraseGhosts note={{ ...note, words }} take={setWords} name="Noor" handInId={id<HandInId>(7)} />
      </article>
    );
  }
  render(
    <QueryClientProvider client={client}>
      <Card />
    </QueryClientProvider>,
  );
  const field = screen.getByLabelText<HTMLTextAreaElement>('Words');
  return {
    field,
    type: (words: string) => fireEvent.change(field, { target: { value: words } }),
    press: (key: string, more: object = {}) => fireEvent.keyDown(field, { key, ...more }),
    ghosts: () => screen.queryAllByRole('listitem').map((li) => li.textContent),
  };
}

test('what fits stands below what is typed; Tab takes the first, with its blanks filled, and it is counted', () => {
  const w = writing();
  w.type('squ count');
  expect(w.ghosts()).toEqual(['Count the squares again: is [words] left of the line?Tab']);
  // The browser is not to go on with Tab.
  expect(w.press('Tab')).toBe(false);
  expect(w.field.value).toBe('Count the squares again: is “34 76” left of the line?');
  expect(w.ghosts()).toEqual([]);
  expect(call).toHaveBeenCalledWith('usePhrase', { params: { handInId: id(7), phraseId: id(1) } });
});

test('before anything is typed there are some; Alt and a digit takes any, and the blank that is left is picked', async () => {
  const w = writing();
  expect(w.ghosts()).toHaveLength(3);
  w.press('2', { altKey: true, code: 'Digit2' });
  expect(w.field.value).toBe('Noor, say how many [what] you see.');
  await vi.waitFor(() =>
    expect(w.field.value.slice(w.field.selectionStart, w.field.selectionEnd)).toBe('[what]'),
  );
});

test('Tab is the browser’s where nothing fits, and with Shift', () => {
  const w = writing();
  w.type('zebra');
  expect(w.press('Tab')).toBe(true);
  w.type('squares');
  expect(w.press('Tab', { shiftKey: true })).toBe(true);
  expect(w.field.value).toBe('squares');
});

test('what is typed is kept in the bank by one key, once, about what the comment is about', async () => {
  const w = writing();
  w.press('k', { altKey: true, code: 'KeyK' });
  expect(call).not.toHaveBeenCalled();
  w.type('Which way is north? ');
  call.mockImplementation(async (_, { body }) => [...BANK, { ...body.phrases[0], uses: 0, usedAt: null }]);
  await act(async () => void w.press('k', { altKey: true, code: 'KeyK' }));
  expect(call.mock.calls[0]![1].body.phrases).toMatchObject([
    { words: 'Which way is north?', focus: 'method' },
  ]);
  await act(async () => void w.press('k', { altKey: true, code: 'KeyK' }));
  expect(call).toHaveBeenCalledTimes(1);
  await vi.waitFor(() => expect(screen.queryByRole('button', { name: /Keep in the bank/ })).toBeNull());
});

import {
  type BankShape,
  type DocumentId,
  type HandInId,
  type MarkId,
  makeId,
  type NoteMark,
  type Phrase,
  type PhraseId,
  plainPhrase,
  type QuestionId,
} from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useRef, useState } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { keys } from '../ask/keys.ts';
import { outbox } from '../outbox/outbox.ts';
import { PhraseGhosts } from './PhraseGhosts.tsx';
import { saidOnceMore } from './said-before.ts';
import { togetherIn } from './useBank.ts';

vi.mock('../frame/session.tsx', () => ({ useHere: () => ({ session: { person: { id: 'me' } } }) }));
const put = vi.spyOn(outbox, 'putToBank');
beforeEach(() => {
  put.mockReset();
  put.mockResolvedValue(undefined);
  localStorage.clear();
});
afterEach(cleanup);

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const phrase = (n: number, words: string, over: Partial<Phrase> = {}): Phrase => ({
  ...plainPhrase(id<PhraseId>(n), words),
  uses: 0,
  usedAt: null,
  asked: [],
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

const QUESTION = id<QuestionId>(77);

function writing(bank: readonly Phrase[] = BANK) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY } } });
  client.setQueryData<BankShape>(keys.bank, { seq: 1, phrases: [...bank], groups: [] });
  const onTaken = vi.fn();
  const site = {
    name: 'Noor',
    handInId: id<HandInId>(7),
    questionOf: () => ({ id: QUESTION, number: '2 b' }),
    onTaken,
  };
  function Card() {
    const [words, setWords] = useState('');
    const field = useRef<HTMLTextAreaElement>(null);
    return (
      <article>
        <textarea ref={field} aria-label="Words" value={words} onChange={(e) => setWords(e.target.value)} />
        <PhraseGhosts
          words={words}
          about={{ ...note, words }}
          field={field}
          above={false}
          take={setWords}
          site={site}
        />
      </article>
    );
  }
  const shown = render(
    <QueryClientProvider client={client}>
      <Card />
    </QueryClientProvider>,
  );
  const field = screen.getByLabelText<HTMLTextAreaElement>('Words');
  return {
    field,
    onTaken,
    leave: shown.unmount,
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
  expect(put).toHaveBeenCalledWith([
    expect.objectContaining({
      type: 'phrase-use',
      handInId: id(7),
      phraseId: id(1),
      markId: note.id,
      questionId: QUESTION,
    }),
  ]);
  expect(w.onTaken).toHaveBeenCalledWith(expect.objectContaining({ id: note.id }), BANK[0]);
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

test('a favourite has its key wherever it stands, the others take what is free', () => {
  const bank = [...BANK, phrase(4, 'In [question]: which unit?', { key: '2' })];
  const w = writing(bank);
  expect(w.ghosts()[0]).toBe('In [question]: which unit?Tab');
  expect(w.ghosts()[2]).toMatch(/Alt 3$/);
  w.type('zebra');
  w.press('2', { altKey: true, code: 'Digit2' });
  expect(w.field.value).toBe('In 2 b: which unit?');
});

test('what is typed is kept in the bank by one key, once, about what the comment is about', async () => {
  const w = writing();
  w.press('k', { altKey: true, code: 'KeyK' });
  expect(put).not.toHaveBeenCalled();
  w.type('Which way is north? ');
  await act(async () => void w.press('k', { altKey: true, code: 'KeyK' }));
  await act(async () => void w.press('k', { altKey: true, code: 'KeyK' }));
  expect(put).toHaveBeenCalledTimes(1);
  expect(put.mock.calls[0]![0]).toMatchObject([
    { type: 'phrase', phrase: { words: 'Which way is north?', focus: 'method' } },
  ]);
});

test('what is typed a third time offers itself to the bank, what is in it never', () => {
  const offered = vi.fn();
  for (let i = 0; i < 4; i++) {
    const w = writing();
    w.type('Look at the north side again');
    if (saidOnceMore('something else entirely')) offered();
    w.leave();
  }
  // Three times, and not a fourth: it was counted on this device.
  expect(JSON.parse(localStorage.getItem('jotmark.said-before')!)).toMatchObject({
    'look at the north side again': 4,
  });
  expect(offered).toHaveBeenCalledTimes(1);
  const w = writing();
  w.type('Squares have four sides.');
  w.leave();
  expect(localStorage.getItem('jotmark.said-before')).not.toContain('squares have');
});

test('many phrases are sent a few at a time: no list is longer than one may be, nor heavier, and none is lost', () => {
  const many = Array.from({ length: 450 }, (_, i) => plainPhrase(id<PhraseId>(i % 250), `${i}`));
  expect(togetherIn(many).map((part) => part.length)).toEqual([200, 200, 50]);
  const long = Array.from({ length: 200 }, (_, i) => plainPhrase(id<PhraseId>(i), 'é'.repeat(4000)));
  const parts = togetherIn(long);
  expect(parts.flat()).toEqual(long);
  for (const part of parts) expect(new Blob([JSON.stringify(part)]).size).toBeLessThan(1024 * 1024);
  expect(togetherIn([])).toEqual([]);
});

import {
  type CopyId,
  type DocumentId,
  type HandBackId,
  type HandBackShape,
  type MarginMark,
  type MarkId,
  type MessageAct,
  type MessageId,
  makeId,
} from '@jotmark/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { Heard } from '../conversation/useMessages.ts';
import { SessionProvider } from '../frame/session.tsx';
import { BackHead } from './BackHead.tsx';
import { NoteByNote } from './NoteByNote.tsx';
import { useMarkedCopy } from './useMarkedCopy.ts';
import { YourTurn } from './YourTurn.tsx';

/** What was said on the copy. */
let said: Heard[] = [];
vi.mock('../conversation/useMessages.ts', () => ({ useMessages: () => said }));
// The paper itself is looked at by the stories.
vi.mock('./MarkedPages.tsx', () => ({
  MarkedPages: ({ active }: { active: string | null }) => <p>{active ? 'its place' : 'all pages'}</p>,
}));

const session = {
  person: { id: makeId(1, new Uint8Array(10)), role: 'student', given: 'Ada', family: 'Q', login: 'ada' },
  token: '',
  school: { name: 'Test', timeZone: 'UTC' },
  demo: null,
  firstPassword: false,
  reset: null,
  needsStep: false,
  standIns: false,
};
afterEach(() => {
  cleanup();
  said = [];
  vi.unstubAllGlobals();
});

let n = 1;
const id = <T extends string>() => makeId(n++, new Uint8Array(10)) as T;
const document = id<DocumentId>();
const copyId = id<CopyId>();
const note = (words: string, y: number, over: Partial<MarginMark> = {}): MarginMark =>
  ({
    ...{ v: 2, id: id<MarkId>(), document, page: 0, colour: 'lake', focus: null, madeAt: 1 },
    ...{ kind: 'note', place: { on: 'spot', x: 1, y }, words },
    ...over,
  }) as MarginMark;

const act = (mark: MarginMark, what: MessageAct, at: number): Heard => ({
  ...{ id: id<MessageId>(), by: 'Ada', mine: true, at, words: '', cover: false, act: what, unread: false },
  ...{
    place: { document, page: 0, x: 1, y: 1, mark: mark.id },
    seenAt: null,
    edited: false,
    withdrawn: false,
  },
});

const back = (
  marks: readonly MarginMark[],
  over: Partial<HandBackShape['snapshot']> = {},
): HandBackShape => ({
  ...{ id: id<HandBackId>(), handInNumber: 1, number: 1, handedBackAt: 100, firstBackAt: 100 },
  snapshot: {
    ...{
      v: 1,
      marks: [...marks],
      grade: 700,
      most: 1000,
      closing: 'Well read.',
      markedBy: 'Ms Quill',
      turns: {},
    },
    ...over,
  },
  documents: [{ id: document }] as unknown as HandBackShape['documents'],
  ...{ filled: [], heard: [], opened: [], closed: 0 },
});

async function show(handBack: HandBackShape, as: 'phone' | 'list'): Promise<void> {
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(session)));
  const Shown = () => {
    const marked = useMarkedCopy(copyId, handBack, true);
    if (as === 'list')
      return (
        <>
          <BackHead handBack={handBack} />
          <YourTurn marked={marked} marks={handBack.snapshot.marks} />
        </>
      );
    return <NoteByNote work={null} mine={false} handBack={handBack} marked={marked} over={() => null} />;
  };
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SessionProvider>
        <MemoryRouter>
          <Shown />
        </MemoryRouter>
      </SessionProvider>
    </QueryClientProvider>,
  );
  await screen.findByText('Well read.');
}

const go = (to: string) => fireEvent.click(screen.getByRole('button', { name: new RegExp(to) }));

describe('a copy that came back, on a telephone', () => {
  test('begins with the words, goes note by note with its place above, to the pages, and to the grade last', async () => {
    await show(back([note('Count again.', 10), note('Which line?', 20)]), 'phone');
    expect(screen.queryByText(/Grade/)).toBeNull();
    go('Note 1 ›');
    expect(screen.getByText('Count again.')).toBeTruthy();
    expect(screen.getByText('its place')).toBeTruthy();
    go('Note 2 ›');
    expect(screen.getByText('note 2 of 2')).toBeTruthy();
    go('Your pages ›');
    expect(screen.getByText('all pages')).toBeTruthy();
    expect(screen.queryByText(/Grade/)).toBeNull();
    go('The grade ›');
    expect(screen.getByText('Grade')).toBeTruthy();
    go('‹ Your pages');
    go('‹ Note 2');
    go('‹ Note 1');
    go('‹ First words');
    expect(screen.getByText('Well read.')).toBeTruthy();
  });

  test('without a note the words come first all the same, then the pages; without pages only the grade', async () => {
    await show(back([]), 'phone');
    expect(screen.queryByText('Your turn')).toBeNull();
    go('Your pages ›');
    go('The grade ›');
    expect(screen.getByText('Grade')).toBeTruthy();
    cleanup();
    await show({ ...back([], { most: null, grade: null }), documents: [] }, 'phone');
    go('Where you stand ›');
    expect(screen.queryByText(/Your pages/)).toBeNull();
  });
});

describe('your turn', () => {
  test('lists what is to do in the order of reading, and counts what is done; what was done with an earlier hand-in counts no more', async () => {
    const [second, first, third] = [note('Which line?', 20), note('Count again.', 10), note('Why?', 30)];
    said = [
      act(first, 'sorted', 150),
      act(second, 'sorted', 50),
      act(third, 'declined', 160),
      act(third, 'reopened', 170),
    ];
    await show(back([second, first, third]), 'list');
    const turn = screen.getByRole('region', { name: 'Your turn' });
    expect(
      within(turn)
        .getAllByRole('listitem')
        .map((l) => l.textContent),
    ).toEqual(['Done: Count again., on page 1', 'Which line?, on page 1', 'Why?, on page 1']);
    expect(turn.textContent).toContain('1 of 3 done');
  });

  test('a legend lists the notes of one focus alone', async () => {
    await show(
      back([note('Count.', 10, { focus: 'method' }), note('Spell.', 20, { focus: 'wording' })]),
      'list',
    );
    fireEvent.click(screen.getByRole('button', { name: 'wording' }));
    expect(screen.getAllByRole('listitem').map((l) => l.textContent)).toEqual(['Spell., on page 1']);
    fireEvent.click(screen.getByRole('button', { name: 'wording' }));
    expect(screen.getAllByRole('listitem')).toHaveLength(2);
  });

  test('next and before go through the notes, and end at the last and the first', async () => {
    await show(back([note('One.', 10), note('Two.', 20)]), 'list');
    const pressed = () => screen.queryByRole('button', { pressed: true })?.textContent ?? null;
    go('Next note');
    expect(pressed()).toContain('One.');
    go('Next note');
    expect(pressed()).toContain('Two.');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /Next note/ }).disabled).toBe(true);
    go('Previous note');
    expect(pressed()).toContain('One.');
  });

  test('what is unfinished says what is still to come: of ungraded work no grade', async () => {
    await show(back([], { unfinished: true, grade: null }), 'list');
    expect(screen.getByText(/the grade is still to come/)).toBeTruthy();
    cleanup();
    await show(back([], { unfinished: true, grade: null, most: null }), 'list');
    expect(screen.getByText(/more is still to come/)).toBeTruthy();
  });
});

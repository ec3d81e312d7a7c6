import type { Carried, DocumentId, MarginMark, MarkId, WhatBecame } from '@jotmark/core';
import { makeId } from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { NO_TALK, type Talk } from '../conversation/talk.ts';
import { BecamePart } from './BecamePart.tsx';
import type { InAgain } from './useInAgain.ts';

afterEach(cleanup);

let n = 1;
const id = <T extends string>() => makeId(n++, new Uint8Array(10)) as T;
const note = (words: string): MarginMark => ({
  v: 2,
  id: id<MarkId>(),
  document: id<DocumentId>(),
  page: 0,
  colour: 'lake',
  focus: null,
  madeAt: 1,
  kind: 'note',
  place: { on: 'spot', x: 1, y: 1 },
  words,
});
const carried = (words: string, became: Carried['became'], gone = false): Carried => {
  const mark = note(words);
  return { mark, became, now: gone ? null : mark, was: 'It was windy', is: 'A gale blew' };
};

function shown(
  all: readonly Carried[],
  said: Record<string, WhatBecame> = {},
  talks = new Map<string, Talk>(),
) {
  const does = { say: vi.fn(), sayAll: vi.fn(), sayAgain: vi.fn(), setActive: vi.fn() };
  const again = {
    carried: all,
    active: all[0]!.mark.id,
    verdictOf: (mark: MarkId) => said[mark] ?? null,
    ...does,
  } as unknown as InAgain;
  const onSee = vi.fn();
  render(<BecamePart again={again} talks={talks} fixed={false} student="Maite" onSee={onSee} />);
  return { ...does, onSee };
}

describe('what became of each note', () => {
  test('stands with what its student did, what stood there and what stands there now', () => {
    const one = carried('How windy?', 'changed');
    const talk: Talk = { ...NO_TALK, act: 'sorted' };
    shown([one, carried('Say how many', 'still')], {}, new Map([[one.mark.id, talk]]));
    const [first, second] = screen.getAllByRole('listitem');
    expect(first!.textContent).toContain('changed');
    expect(first!.textContent).toContain('Maite called it sorted');
    expect(first!.textContent).toContain('It was windy → A gale blew');
    expect(second!.textContent).toContain('still there');
    expect(screen.getByText('0 of 2 notes looked at')).toBeTruthy();
  });

  test('one key each agrees, and goes on to the next; the arrows only go', () => {
    const all = [carried('One', 'changed'), carried('Two', 'still'), carried('Three', 'gone', true)];
    const { say, sayAgain, setActive, onSee } = shown(all);
    const buttons = screen.getAllByRole('button', { name: /^(One|Two|Three)/ });
    fireEvent.keyDown(buttons[0]!, { key: 's' });
    expect(say).toHaveBeenCalledWith(all[0]!.mark.id, 'dealt-with');
    expect(setActive).toHaveBeenLastCalledWith(all[1]!.mark.id);
    expect(onSee).toHaveBeenLastCalledWith(all[1]);
    fireEvent.keyDown(buttons[1]!, { key: 'y' });
    expect(sayAgain).toHaveBeenCalledWith(all[1]);
    // What has no place cannot be said again.
    fireEvent.keyDown(buttons[2]!, { key: 'y' });
    expect(sayAgain).toHaveBeenCalledTimes(1);
    fireEvent.keyDown(buttons[2]!, { key: 'x' });
    expect(say).toHaveBeenLastCalledWith(all[2]!.mark.id, 'let-go');
    say.mockClear();
    fireEvent.keyDown(buttons[2]!, { key: 'ArrowUp' });
    expect(setActive).toHaveBeenLastCalledWith(all[1]!.mark.id);
    expect(say).not.toHaveBeenCalled();
  });

  test('all that look dealt with are agreed to by one move: accepted ones, and changed ones that were called sorted', () => {
    const all = [
      carried('A', 'taken'),
      carried('B', 'changed'),
      carried('C', 'changed'),
      carried('D', 'still'),
    ];
    const sorted: Talk = { ...NO_TALK, act: 'sorted' };
    const { sayAll } = shown(
      all,
      {},
      new Map([
        [all[1]!.mark.id, sorted],
        [all[3]!.mark.id, sorted],
      ]),
    );
    fireEvent.click(screen.getByRole('button', { name: '2 look dealt with: agree to all' }));
    expect(sayAll).toHaveBeenCalledWith([all[0]!.mark.id, all[1]!.mark.id], 'dealt-with');
  });
});

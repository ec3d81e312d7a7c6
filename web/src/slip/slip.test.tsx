import {
  type DocumentId,
  EMPTY_SHEET,
  type Mark,
  type MarkId,
  makeId,
  PEN_KEYS,
  starterTrays,
  type TrayId,
} from '@jotmark/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { createRef } from 'react';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { KeySheet } from '../desk/KeySheet.tsx';
import { SaveSign } from '../outbox/SaveSign.tsx';
import { PenTray } from '../pens/PenTray.tsx';
import { SortablePens } from '../pens/SortablePens.tsx';
import { ScoreSlip } from './ScoreSlip.tsx';

vi.mock('../frame/session.tsx', () => ({ useHere: () => ({ session: { person: { role: 'teacher' } } }) }));

afterEach(cleanup);

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const base = { v: 2 as const, document: id<DocumentId>(2), colour: 'lake' as const, focus: null, madeAt: 1 };
const marks: Mark[] = [
  {
    ...base,
    id: id<MarkId>(3),
    page: 1,
    kind: 'note',
    place: { on: 'spot', x: 5, y: 5 },
    words: 'second page',
  },
  { ...base, id: id<MarkId>(4), page: 0, kind: 'ink', points: [100, 100, 9], width: 1 },
];

function show(over: Partial<Parameters<typeof ScoreSlip>[0]> = {}) {
  const heard = {
    onClosing: vi.fn(),
    onDone: vi.fn(),
    onNext: vi.fn(),
    onChangeAgain: () => {},
    onPick: vi.fn(),
    onGather: vi.fn(),
  };
  render(
    <ScoreSlip
      about="hand-in 1 · on time"
      slip={EMPTY_SHEET.slip}
      size={{ width: 286, onWidth: vi.fn() }}
      marks={marks}
      state="open"
      last={false}
      selected={[]}
      parts={{ scores: <p>scores</p>, voice: null }}
      closingRef={createRef()}
      does={heard}
      {...over}
    />,
  );
  return heard;
}

describe('the score slip', () => {
  test('lists all marks in reading order and picks one', () => {
    const { onPick } = show();
    const list = screen.getByText('2 marks, 1 note').closest('details')!;
    list.open = true;
    fireEvent(list, new Event('toggle'));
    const items = screen.getAllByRole('button', { name: /^p\./ });
    expect(items.map((b) => b.textContent)).toEqual(['p. 1: pen stroke', 'p. 2: note: second page']);
    fireEvent.click(items[1]!);
    expect(onPick).toHaveBeenCalledWith(marks[0]);
  });

  test('says what its button does: marked and on, or only on, or the last one', () => {
    const { onDone } = show();
    fireEvent.click(screen.getByRole('button', { name: /^Marked, next copy/ }));
    expect(onDone).toHaveBeenCalledWith(true, true);
    cleanup();
    show({
      slip: { ...EMPTY_SHEET.slip, done: { value: true, version: null } },
      last: true,
    });
    expect(screen.getByRole('button', { name: 'This was the last one' }).hasAttribute('disabled')).toBe(true);
    expect(screen.getByText('Marked, and held until you hand back.')).toBeDefined();
  });

  test('a copy that was handed back can be read and not changed', () => {
    show({ state: 'handed-back' });
    expect(screen.queryByRole('button', { name: /Marked/ })).toBeNull();
  });
});

describe('beside the slip', () => {
  test('every pen of the tray says its key and which is in hand', () => {
    const take = vi.fn();
    const writing = starterTrays(() => 'x' as TrayId).trays[0]!;
    const pens = writing.pens.map((pen, i) => ({ key: PEN_KEYS[i]!, pen }));
    render(<PenTray pens={pens} taken="3" onTake={take} />);
    const buttons = screen.getAllByRole('button');
    expect(buttons.map((p) => p.getAttribute('aria-keyshortcuts'))).toEqual([...PEN_KEYS]);
    expect(buttons.filter((p) => p.getAttribute('aria-pressed') === 'true')).toEqual([buttons[2]]);
    fireEvent.click(buttons[9]!);
    expect(take).toHaveBeenCalledWith('0');
  });

  test('where work is not graded no pen says points', () => {
    const { pens } = starterTrays(() => 'x' as TrayId).trays.find((t) =>
      t.pens.some((p) => p.name === 'right'),
    )!;
    const words = (ungraded: boolean) => {
      const { container, unmount } = render(
        <PenTray
          pens={pens.map((pen, i) => ({ key: PEN_KEYS[i]!, pen, ungraded }))}
          taken="1"
          onTake={() => {}}
        />,
      );
      const text = container.textContent;
      unmount();
      return text;
    };
    expect(words(false)).toContain('right 1');
    expect(words(true)).not.toMatch(/right 1|half ½|wrong 0/);
  });

  test('a pen goes elsewhere with Alt and an arrow', () => {
    const order = vi.fn();
    const { pens } = starterTrays(() => 'x' as TrayId).trays[1]!;
    render(
      <SortablePens
        pens={pens.map((pen, i) => ({ key: PEN_KEYS[i]!, pen }))}
        taken="1"
        onTake={() => {}}
        onOrder={order}
        onChange={() => {}}
      />,
    );
    fireEvent.keyDown(screen.getAllByRole('button')[1]!, { key: 'ArrowRight', altKey: true });
    expect(order).toHaveBeenCalledWith([pens[0], pens[2], pens[1], ...pens.slice(3)]);
    fireEvent.keyDown(screen.getAllByRole('button')[0]!, { key: 'ArrowLeft', altKey: true });
    expect(order).toHaveBeenCalledTimes(1);
  });

  test.each([
    ['saved', 'Saved'],
    ['saving', 'Saving …'],
    ['kept', 'Kept on this device: 3 changes'],
    ['loose', 'Not saved yet: leave this page open'],
  ] as const)('%s is said as "%s"', (save, words) => {
    render(<SaveSign save={save} waiting={3} />);
    expect(screen.getByRole('status').textContent).toBe(words);
  });

  test('the sheet of keys closes by its button', () => {
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        disconnect() {}
        unobserve() {}
      },
    );
    const close = vi.fn();
    render(<KeySheet onClose={close} />);
    fireEvent.click(screen.getByRole('button', { name: 'Back to the desk' }));
    expect(close).toHaveBeenCalled();
  });
});

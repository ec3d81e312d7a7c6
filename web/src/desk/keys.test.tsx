import { cleanup, fireEvent, render } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { type DeskKeys, useDeskKeys } from './useDeskKeys.ts';

afterEach(cleanup);

/** All that keys can do, heard; `over` says otherwise. */
function desk(over: Partial<DeskKeys> = {}) {
  const heard: Record<string, ReturnType<typeof vi.fn>> = {};
  const pens = { lend: vi.fn(), giveBack: vi.fn() };
  const keys = new Proxy({ off: false, walking: false, pens, ...over } as Record<string, unknown>, {
    get(own, name: string) {
      if (name in own) return own[name];
      heard[name] = heard[name] ?? vi.fn(() => true);
      return heard[name];
    },
  }) as unknown as DeskKeys;
  function Keys() {
    useDeskKeys(keys);
    return (
      <>
        <input aria-label="field" />
        <div role="dialog">
          <button type="button">in a dialog</button>
        </div>
      </>
    );
  }
  const { container } = render(<Keys />);
  return {
    heard,
    pens,
    field: container.querySelector('input')!,
    inDialog: container.querySelector('button')!,
    press: (key: string, more: Record<string, unknown> = {}, at: Element = document.body) =>
      fireEvent.keyDown(at, { key, ...more }),
  };
}

test('a pen’s key takes it: at once, once for a held key, and given back when it is let go', () => {
  const { pens, press } = desk();
  press('3');
  press('3', { repeat: true });
  expect(pens.lend.mock.calls).toEqual([['3']]);
  fireEvent.keyUp(document.body, { key: '4' });
  expect(pens.giveBack).not.toHaveBeenCalled();
  fireEvent.keyUp(document.body, { key: '3' });
  expect(pens.giveBack).toHaveBeenCalledWith('3', expect.any(Boolean));
});

test('a pen is lent for what is drawn while its key is held; a key pressed slowly takes the pen as any other', () => {
  const { pens } = desk();
  const at = (timeStamp: number, type: 'keydown' | 'keyup') => {
    const e = new KeyboardEvent(type, { key: '3', bubbles: true });
    Object.defineProperty(e, 'timeStamp', { value: timeStamp });
    document.body.dispatchEvent(e);
  };
  const hold = (ms: number, drawing: boolean) => {
    at(1000, 'keydown');
    if (drawing) fireEvent.pointerDown(document.body);
    at(1000 + ms, 'keyup');
    return pens.giveBack.mock.lastCall?.[1];
  };
  expect(hold(2000, true)).toBe(true);
  expect(hold(2000, false)).toBe(false);
  expect(hold(100, true)).toBe(false);
});

test('a pen’s key leaves what is being drawn alone', () => {
  const { heard, press } = desk();
  press('2');
  expect(heard.letGo).toBeUndefined();
});

test('with Shift a digit gives what is picked another pen, on whatever keyboard', () => {
  const { heard, pens, press } = desk();
  press('"', { shiftKey: true, code: 'Digit2' });
  expect(heard.changePen).toHaveBeenCalledWith('2');
  expect(pens.lend).not.toHaveBeenCalled();
});

test('arrows move what is picked, with Ctrl they make it larger, and walk words while one walks', () => {
  const picked = desk();
  picked.press('ArrowRight');
  picked.press('ArrowUp', { shiftKey: true });
  picked.press('ArrowDown', { ctrlKey: true });
  expect(picked.heard.nudge!.mock.calls).toEqual([
    [1, 0],
    [0, -10],
  ]);
  expect(picked.heard.grow).toHaveBeenCalledWith(0, 1);
  cleanup();
  const walking = desk({ walking: true });
  walking.press('ArrowRight', { shiftKey: true });
  expect(walking.heard.walk).toHaveBeenCalledWith('ArrowRight', true);
});

test('where words are typed only Ctrl and Enter is the desk’s; a dialog has all its keys', () => {
  const { heard, pens, press, field, inDialog } = desk();
  for (const key of ['2', 'e', 'n', 'Delete', 'Escape', '?']) press(key, {}, field);
  press('z', { ctrlKey: true }, field);
  for (const key of ['2', 'Escape', 'Enter']) press(key, {}, inDialog);
  press('Enter', { ctrlKey: true }, inDialog);
  expect([pens.lend.mock.calls, Object.keys(heard)]).toEqual([[], []]);
  press('Enter', { ctrlKey: true }, field);
  expect(Object.keys(heard)).toEqual(['done']);
});

test('where nothing can be written no pen is taken', () => {
  const { heard, press } = desk({ pens: null });
  press('2');
  expect(heard).toEqual({});
});

test('the key to talk records until it is let go, or, pressed once, until it is pressed again; with Shift about the whole copy', () => {
  const { heard, press, field } = desk();
  /** A key's event at this moment, in milliseconds. */
  const at = (type: 'keydown' | 'keyup', ms: number, more: KeyboardEventInit = {}) => {
    const event = new KeyboardEvent(type, {
      key: 'v',
      code: 'KeyV',
      bubbles: true,
      cancelable: true,
      ...more,
    });
    Object.defineProperty(event, 'timeStamp', { value: ms });
    fireEvent(document.body, event);
  };
  at('keydown', 1000);
  at('keydown', 1200, { repeat: true });
  at('keyup', 1900);
  expect(heard.talk).toHaveBeenCalledTimes(1);
  expect(heard.talkOver).toHaveBeenCalledTimes(1);
  at('keydown', 3000);
  at('keyup', 3100);
  expect(heard.talk).toHaveBeenCalledTimes(2);
  expect(heard.talkOver).toHaveBeenCalledTimes(1);
  // This press ends it: letting go of it does nothing more.
  heard.talk!.mockReturnValue(false);
  at('keydown', 6000);
  at('keyup', 7000);
  expect(heard.talkOver).toHaveBeenCalledTimes(1);
  at('keydown', 8000, { key: 'V', shiftKey: true });
  expect(heard.talkOfCopy).toHaveBeenCalledTimes(1);
  // Where one types it is a letter, but with Alt.
  press('v', { code: 'KeyV' }, field);
  expect(heard.talk).toHaveBeenCalledTimes(3);
  press('v', { code: 'KeyV', altKey: true }, field);
  expect(heard.talk).toHaveBeenCalledTimes(4);
});

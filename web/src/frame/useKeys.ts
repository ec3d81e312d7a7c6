import { useEffect, useRef } from 'react';
import { matchKeyBindingPress, parseKeybinding } from 'tinykeys';

/** One thing that keys do. */
export interface KeyBinding {
  /** The keys, one or several to choose from, parted by spaces: `m`, `$mod+Shift+z`, `Delete Backspace`. A letter is written small. */
  readonly keys: string;
  /** Does it; false: it was not ours after all, and the browser does what it does. */
  does(event: KeyboardEvent): unknown;
  /** Where words are typed a key belongs to the words, unless this says it is ours there too. */
  readonly inFields?: boolean | ((field: HTMLElement) => boolean);
}

type Press = ReturnType<typeof parseKeybinding>[number];
const parsed = new Map<string, readonly Press[]>();

function pressesOf(keys: string): readonly Press[] {
  const known = parsed.get(keys);
  if (known) return known;
  const presses = keys.split(' ').map((press) => parseKeybinding(press)[0]!);
  parsed.set(keys, presses);
  return presses;
}

/** Signs are typed with Shift on some keyboards and without it on others. */
export const sign = (key: string): string => `${key} Shift+${key}`;

/** A dialog or a menu has the keyboard. */
const elsewhere = (target: HTMLElement): boolean => target.closest('[role="dialog"], [role="menu"]') !== null;

export const typesInto = (target: HTMLElement): boolean =>
  target.matches(
    'input:not([type="radio"], [type="checkbox"], [type="range"]), textarea, select, [contenteditable]',
  );

/** Keys of a view, in one listener. The first binding that fits and does something has the key; with `off` none has. */
export function useKeys(bindings: readonly KeyBinding[], off = false): void {
  const newest = useRef({ bindings, off });
  newest.current = { bindings, off };
  useEffect(() => {
    const heard = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (newest.current.off || event.defaultPrevented || event.isComposing || elsewhere(target)) return;
      const typing = typesInto(target);
      for (const { keys, does, inFields } of newest.current.bindings) {
        if (typing && !(typeof inFields === 'function' ? inFields(target) : inFields)) continue;
        if (!pressesOf(keys).some((press) => matchKeyBindingPress(event, press))) continue;
        if (does(event) === false) continue;
        event.preventDefault();
        return;
      }
    };
    window.addEventListener('keydown', heard);
    return () => window.removeEventListener('keydown', heard);
  }, []);
}

export type Arrow = 'ArrowLeft' | 'ArrowRight' | 'ArrowUp' | 'ArrowDown';
/** Which way each arrow goes, in steps to the right and down. */
export const ARROWS: Readonly<Record<Arrow, readonly [dx: number, dy: number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
/** All four, with what is held besides: `arrows('Shift+')`. */
export const arrows = (held = ''): string =>
  Object.keys(ARROWS)
    .map((key) => held + key)
    .join(' ');
export const wayOf = (event: KeyboardEvent): readonly [dx: number, dy: number] => ARROWS[event.key as Arrow];

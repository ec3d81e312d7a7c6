import { HAND_TOOLS, PEN_KEYS } from '@jotmark/core';
import { useEffect, useRef } from 'react';
import type { Zoom } from '../hand/zoom.ts';
import type { TraysInHand } from '../pens/useTrays.ts';

export interface DeskKeys {
  /** Something else has the keyboard. */
  readonly off: boolean;
  /** The word cursor is out: arrows are its. */
  readonly walking: boolean;
  /** Pens to lend; null where nothing can be written. */
  readonly pens: Pick<TraysInHand, 'lend' | 'giveBack'> | null;
  otherTray(): void;
  /** Gives what is picked the pen at this key; false when nothing is picked. */
  changePen(key: string): boolean;
  undo(): void;
  redo(): void;
  next(): void;
  before(): void;
  done(): void;
  remove(): void;
  /** Moves what is picked, in points; false when nothing can be moved. */
  nudge(dx: number, dy: number): boolean;
  /** Makes what is picked larger or smaller by steps; false when nothing can be. */
  grow(dx: number, dy: number): boolean;
  copy(): void;
  putDown(): void;
  double(): void;
  /** Picks all marks of the page. */
  all(): void;
  walkMarks(by: 1 | -1): void;
  letGo(): void;
  edit(): void;
  grade(): void;
  closing(): void;
  larger(): void;
  smaller(): void;
  fit(zoom: Zoom): void;
  turn(): void;
  slip(): void;
  strip(): void;
  pageStrip(): void;
  margin(): void;
  nextDocument(): void;
  find(): void;
  beside(): void;
  page(by: number): void;
  walk(key: string, extend: boolean): void;
  markWords(): void;
  help(): void;
}

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** A pen's key that is down for longer, in milliseconds, is held: the pen is lent until it is let go. */
const HELD_MS = 350;

const takesPen = (key: string): boolean =>
  (PEN_KEYS as readonly string[]).includes(key) || HAND_TOOLS.some((t) => t.key === key);

/** Single keys for what is done a hundred times. Where words are typed only keys with Ctrl are ours. */
export function useDeskKeys(keys: DeskKeys): void {
  const newest = useRef(keys);
  newest.current = keys;
  useEffect(() => {
    let held: { key: string; since: number } | null = null;
    const down = (e: KeyboardEvent) => {
      const k = newest.current;
      if (k.off || e.defaultPrevented || e.isComposing || elsewhere(e.target as HTMLElement)) return;
      if (bare(e) && takesPen(e.key) && k.pens) {
        e.preventDefault();
        if (e.repeat) return;
        held = { key: e.key, since: e.timeStamp };
        return k.pens.lend(e.key);
      }
      if (handle(e, k)) e.preventDefault();
    };
    const up = (e: KeyboardEvent) => {
      if (held?.key !== e.key) return;
      newest.current.pens?.giveBack(e.key, e.timeStamp - held.since > HELD_MS);
      held = null;
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, []);
}

/** A dialog or a menu has the keyboard. */
const elsewhere = (target: HTMLElement): boolean => target.closest('[role="dialog"], [role="menu"]') !== null;

/** A key by itself, outside of fields. */
function bare(e: KeyboardEvent): boolean {
  return !e.ctrlKey && !e.metaKey && !e.altKey && !e.shiftKey && !typesInto(e.target as HTMLElement);
}

const typesInto = (target: HTMLElement): boolean =>
  target.matches('input, textarea, select, [contenteditable]');

/** Whether the key was ours. */
function handle(e: KeyboardEvent, k: DeskKeys): boolean {
  const target = e.target as HTMLElement;
  const ctrl = e.ctrlKey || e.metaKey;
  if (ctrl && e.key === 'Enter') return did(k.done());
  if (typesInto(target) || e.altKey) return false;
  const arrow = ARROWS[e.key];
  if (ctrl) return arrow ? k.grow(...arrow) : withCtrl(e, k);
  if (arrow) {
    if (k.walking) return did(k.walk(e.key, e.shiftKey));
    const by = e.shiftKey ? 10 : 1;
    return k.nudge(arrow[0] * by, arrow[1] * by);
  }
  // With Shift a digit is another sign on every keyboard: the key itself tells which pen is meant.
  const digit = /^Digit(\d)$/.exec(e.code)?.[1];
  if (e.shiftKey && digit !== undefined) return k.changePen(digit);
  if (e.key === 'Enter') {
    // Enter on a button presses the button.
    if (target.matches('button, a, summary')) return false;
    return did(k.walking ? k.markWords() : k.edit());
  }
  return alone(e.key, k);
}

function withCtrl(e: KeyboardEvent, k: DeskKeys): boolean {
  // Words that are picked on the screen are the browser's to copy.
  const selected = String(getSelection()) !== '';
  switch (e.key.toLowerCase()) {
    case 'z':
      return did(e.shiftKey ? k.redo() : k.undo());
    case 'c':
      return !selected && did(k.copy());
    case 'v':
      return did(k.putDown());
    case 'd':
      return did(k.double());
    case 'a':
      return did(k.all());
    case 'f':
      return did(k.find());
    default:
      return false;
  }
}

function alone(key: string, k: DeskKeys): boolean {
  switch (key) {
    case 'q':
      return did(k.otherTray());
    case 't':
      return did(k.walk('', false));
    case 'm':
      return did(k.walkMarks(1));
    case 'M':
      return did(k.walkMarks(-1));
    case 'n':
      return did(k.next());
    case 'b':
      return did(k.before());
    case 'Delete':
    case 'Backspace':
      return did(k.remove());
    case 'Escape':
      return did(k.letGo());
    case 'g':
      return did(k.grade());
    case 'c':
      return did(k.closing());
    case '+':
    case '=':
      return did(k.larger());
    case '-':
      return did(k.smaller());
    case 'w':
      return did(k.fit('width'));
    case 'p':
      return did(k.fit('page'));
    case 'r':
      return did(k.turn());
    case 's':
      return did(k.slip());
    case 'i':
      return did(k.strip());
    case 'k':
      return did(k.pageStrip());
    case 'f':
      return did(k.margin());
    case 'o':
      return did(k.nextDocument());
    case 'v':
      return did(k.beside());
    case '/':
      return did(k.find());
    case 'PageDown':
      return did(k.page(1));
    case 'PageUp':
      return did(k.page(-1));
    case '?':
      return did(k.help());
    default:
      return false;
  }
}

const did = (_: unknown): true => true;

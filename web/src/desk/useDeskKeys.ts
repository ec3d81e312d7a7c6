import { STARTER_TRAY } from '@jotmark/core';
import { useEffect, useRef } from 'react';
import type { Zoom } from './zoom.ts';

export interface DeskKeys {
  /** Something else has the keyboard. */
  readonly off: boolean;
  /** The word cursor is out: arrows are its. */
  readonly walking: boolean;
  takePen(index: number): void;
  undo(): void;
  redo(): void;
  next(): void;
  before(): void;
  done(): void;
  remove(): void;
  /** Moves what is picked, in points; false when nothing can be moved. */
  nudge(dx: number, dy: number): boolean;
  letGo(): void;
  edit(): void;
  grade(): void;
  closing(): void;
  larger(): void;
  smaller(): void;
  fit(zoom: Zoom): void;
  turn(): void;
  slip(): void;
  page(by: number): void;
  walk(key: string, extend: boolean): void;
  markWords(): void;
  help(): void;
}

const toolIndex = (tool: string) => STARTER_TRAY.findIndex((p) => p.tool === tool);
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Single keys for what is done a hundred times. Where words are typed only keys with Ctrl are ours. */
export function useDeskKeys(keys: DeskKeys): void {
  const newest = useRef(keys);
  newest.current = keys;
  useEffect(() => {
    const heard = (e: KeyboardEvent) => {
      const k = newest.current;
      if (k.off || e.defaultPrevented || e.isComposing) return;
      if (handle(e, k)) e.preventDefault();
    };
    window.addEventListener('keydown', heard);
    return () => window.removeEventListener('keydown', heard);
  }, []);
}

/** Whether the key was ours. */
function handle(e: KeyboardEvent, k: DeskKeys): boolean {
  const target = e.target as HTMLElement;
  const typing = target.matches('input, textarea, select, [contenteditable]');
  const ctrl = e.ctrlKey || e.metaKey;
  if (ctrl && e.key === 'Enter') return did(k.done());
  if (typing || e.altKey) return false;
  if (ctrl) {
    if (e.key.toLowerCase() === 'z') return did(e.shiftKey ? k.redo() : k.undo());
    return false;
  }
  const arrow = ARROWS[e.key];
  if (arrow) {
    if (k.walking) return did(k.walk(e.key, e.shiftKey));
    const by = e.shiftKey ? 10 : 1;
    return k.nudge(arrow[0] * by, arrow[1] * by);
  }
  if (e.key === 'Enter') {
    // Enter on a button presses the button.
    if (target.matches('button, a, summary')) return false;
    return did(k.walking ? k.markWords() : k.edit());
  }
  const pen = Number(e.key);
  if (pen >= 1 && pen <= STARTER_TRAY.length) return did(k.takePen(pen - 1));
  switch (e.key) {
    case 'e':
      return did(k.takePen(toolIndex('eraser')));
    case 'h':
      return did(k.takePen(toolIndex('hand')));
    case 't':
      return did(k.walk('', false));
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

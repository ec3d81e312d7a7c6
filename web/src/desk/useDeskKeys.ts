import { FAVOURITE_KEYS, HAND_TOOLS, PEN_KEYS } from '@jotmark/core';
import { useEffect, useRef } from 'react';
import { arrows, type KeyBinding, sign, useKeys, wayOf } from '../frame/useKeys.ts';
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
  /** To the field that finds a copy by its name. */
  findCopy(): void;
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
  /** To what is scored next; false: nothing is scored here. */
  nextOpen(): boolean;
  /** The points in hand to the next question; false: none are in hand. */
  otherQuestion(): boolean;
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
  /** Begins to record, or ends it; true where it began. */
  talk(): boolean;
  talkOver(): void;
  /** The same about the whole copy. */
  talkOfCopy(): boolean;
  bank(): void;
  /** Puts the favourite phrase of this key; false where there is none. */
  favourite(key: string): boolean;
  addPlaces(): void;
  sameElsewhere(): void;
  page(by: number): void;
  walk(key: string, extend: boolean): void;
  markWords(): void;
  help(): void;
}

/** A key that is down for longer, in milliseconds, is held. A pen whose key is held while one draws is lent until it is let go; a key that is only pressed slowly takes the pen as any other. */
const HELD_MS = 350;
const PENS = [...PEN_KEYS, ...HAND_TOOLS.map((t) => t.key)].join(' ');
/** With Shift a digit is another sign on every keyboard: the key itself tells which pen is meant. */
const PENS_WITH_SHIFT = PEN_KEYS.map((key) => `Shift+Digit${key}`).join(' ');

const FAVOURITES = FAVOURITE_KEYS.map((key) => `Alt+Digit${key}`).join(' ');

/** Single keys for what is done a hundred times. A new key is a line here, and one in the sheet of keys. */
function bindingsOf(k: DeskKeys): KeyBinding[] {
  const did = (act: () => unknown) => () => {
    act();
  };
  return [
    { keys: '$mod+Enter', does: did(() => k.done()), inFields: true },
    { keys: PENS_WITH_SHIFT, does: (e) => k.changePen(e.code.slice('Digit'.length)) },
    { keys: `${arrows()} ${arrows('Shift+')}`, does: (e) => withArrow(e, k) },
    { keys: arrows('$mod+'), does: (e) => k.grow(...wayOf(e)) },
    { keys: 'Enter', does: (e) => withEnter(e, k) },
    { keys: '$mod+z', does: did(() => k.undo()) },
    { keys: '$mod+Shift+z', does: did(() => k.redo()) },
    // Words that are picked on the screen are the browser's to copy.
    { keys: '$mod+c', does: () => String(getSelection()) === '' && k.copy() },
    { keys: '$mod+v', does: did(() => k.putDown()) },
    { keys: '$mod+d', does: did(() => k.double()) },
    { keys: '$mod+a', does: did(() => k.all()) },
    { keys: `$mod+f ${sign('/')}`, does: did(() => k.find()) },
    { keys: 'q', does: did(() => k.otherTray()) },
    { keys: 't', does: did(() => k.walk('', false)) },
    { keys: 'm', does: did(() => k.walkMarks(1)) },
    { keys: 'Shift+m', does: did(() => k.walkMarks(-1)) },
    { keys: 'n', does: did(() => k.next()) },
    { keys: 'b', does: did(() => k.before()) },
    { keys: 'Shift+n', does: did(() => k.findCopy()) },
    { keys: 'Delete Backspace', does: did(() => k.remove()) },
    { keys: 'Escape', does: did(() => k.letGo()) },
    { keys: 'g', does: did(() => k.grade()) },
    { keys: 'c', does: did(() => k.closing()) },
    { keys: 'u', does: () => k.nextOpen() },
    { keys: 'z', does: () => k.otherQuestion() },
    { keys: `${sign('+')} =`, does: did(() => k.larger()) },
    { keys: '-', does: did(() => k.smaller()) },
    { keys: 'w', does: did(() => k.fit('width')) },
    { keys: 'p', does: did(() => k.fit('page')) },
    { keys: 'r', does: did(() => k.turn()) },
    { keys: 's', does: did(() => k.slip()) },
    { keys: 'i', does: did(() => k.strip()) },
    { keys: 'k', does: did(() => k.pageStrip()) },
    { keys: 'f', does: did(() => k.margin()) },
    { keys: 'o', does: did(() => k.nextDocument()) },
    { keys: 'y', does: did(() => k.beside()) },
    { keys: 'j', does: did(() => k.bank()) },
    { keys: FAVOURITES, does: (e) => k.favourite(e.code.slice('Digit'.length)) },
    { keys: 'a', does: did(() => k.addPlaces()) },
    { keys: 'x', does: did(() => k.sameElsewhere()) },
    { keys: 'PageDown', does: did(() => k.page(1)) },
    { keys: 'PageUp', does: did(() => k.page(-1)) },
    { keys: sign('?'), does: did(() => k.help()) },
  ];
}

function withArrow(e: KeyboardEvent, k: DeskKeys): boolean {
  if (k.walking) {
    k.walk(e.key, e.shiftKey);
    return true;
  }
  const [dx, dy] = wayOf(e);
  const by = e.shiftKey ? 10 : 1;
  return k.nudge(dx * by, dy * by);
}

function withEnter(e: KeyboardEvent, k: DeskKeys): boolean {
  // Enter on a button presses the button.
  if ((e.target as HTMLElement).matches('button, a, summary')) return false;
  if (k.walking) k.markWords();
  else k.edit();
  return true;
}

/** All keys of the desk. A pen's key takes it at once; held, it is lent until it is let go. The key to talk records until it is let go, or pressed again. */
export function useDeskKeys(k: DeskKeys): void {
  const held = useRef<{ key: string; since: number; used: boolean } | null>(null);
  const newest = useRef(k);
  newest.current = k;
  const lend = (e: KeyboardEvent) => {
    if (!k.pens) return false;
    if (e.repeat) return true;
    held.current = { key: e.key, since: e.timeStamp, used: false };
    k.pens.lend(e.key);
    return true;
  };
  const spoken = useRef<number | null>(null);
  const talk = (e: KeyboardEvent) => {
    if (e.repeat) return;
    const began = e.shiftKey ? k.talkOfCopy() : k.talk();
    spoken.current = began ? e.timeStamp : null;
  };
  useKeys(
    [
      { keys: PENS, does: lend },
      { keys: 'v Shift+v', does: talk },
      // By the key and not the letter: with Alt it types a sign on some keyboards.
      { keys: 'Alt+KeyV', does: talk, inFields: true },
      ...bindingsOf(k),
    ],
    k.off,
  );
  useEffect(() => {
    const up = (e: KeyboardEvent) => {
      if (e.code === 'KeyV' && spoken.current !== null) {
        if (e.timeStamp - spoken.current > HELD_MS) newest.current.talkOver();
        spoken.current = null;
      }
      if (held.current?.key !== e.key) return;
      newest.current.pens?.giveBack(e.key, held.current.used && e.timeStamp - held.current.since > HELD_MS);
      held.current = null;
    };
    const used = () => {
      if (held.current) held.current.used = true;
    };
    window.addEventListener('keyup', up);
    window.addEventListener('pointerdown', used, true);
    return () => {
      window.removeEventListener('keyup', up);
      window.removeEventListener('pointerdown', used, true);
    };
  }, []);
}

import { canStandElsewhere, isMarginMark, isSuggestion, type MarginMark, type Mark } from '@jotmark/core';
import { ZOOM_STEP } from '../hand/zoom.ts';
import { FIND_COPY } from './PileStrip.tsx';
import type { DeskNow } from './useDesk.ts';
import type { DeskKeys } from './useDeskKeys.ts';

const NO_MARKS: readonly Mark[] = [];

/** What each key of the desk does with this copy. */
export function keysOf(d: DeskNow): DeskKeys {
  const { hand, paper, marks, place, readOnly, layout, lay } = d;
  const { hold } = marks;
  const { trays, cursor } = hand;
  const page = paper.pages[paper.pageNow];
  return {
    off: d.keySheet || d.stands.looksBack,
    // A stroke that is being drawn goes on with the pen it was begun with.
    pens: trays && !readOnly ? { lend: (key) => lendPen(d, key), giveBack: trays.giveBack } : null,
    otherTray: () => {
      if (trays) trays.keep({ ...trays.trays, out: (trays.trays.out + 1) % trays.trays.trays.length });
    },
    changePen: (key) => {
      const other = trays?.penAt(key);
      return other ? hold.changePen(other) : false;
    },
    undo: () => !readOnly && d.does.onUndo(),
    redo: () => !readOnly && d.does.onRedo(),
    next: () => d.go(place.next),
    before: () => d.go(place.before),
    findCopy: () => {
      if (!layout.strip || layout.only !== null) lay({ strip: true, only: null });
      // It may only now be shown.
      setTimeout(() => document.getElementById(FIND_COPY)?.focus(), 0);
    },
    done: () => !readOnly && d.setDone(true, true),
    remove: () => !readOnly && hold.takeAway(marks.picked),
    nudge: hold.nudge,
    grow: hold.grow,
    copy: hold.copy,
    putDown: () => hold.putDown(page),
    double: hold.double,
    all: () => hold.pick(marks.byPage[paper.pageNow] ?? NO_MARKS),
    walkMarks: (by) => {
      const mark = hold.walk(by);
      if (mark) paper.bring(mark);
    },
    letGo: () => {
      d.notes.does.endAdding();
      d.phrases.arm(null);
      hand.pad.current?.giveUp();
      cursor.putAway();
      hold.letGo();
    },
    edit: hold.edit,
    grade: () => d.fields.grade.current?.focus(),
    closing: () => d.fields.closing.current?.focus(),
    nextOpen: d.scoring.toNextOpen,
    otherQuestion: d.scoring.otherQuestion,
    larger: () => paper.step(ZOOM_STEP),
    smaller: () => paper.step(1 / ZOOM_STEP),
    fit: paper.setWish,
    turn: () => !readOnly && d.turning.turn(page),
    slip: () => lay(layout.only ? { only: null } : { slip: !layout.slip }),
    strip: () => lay({ strip: !layout.strip }),
    pageStrip: () => lay({ pages: !layout.pages }),
    margin: () => lay({ margin: layout.margin === 'wide' ? 'narrow' : 'wide' }),
    nextDocument: paper.nextDocument,
    find: d.finding.begin,
    beside: d.does.onBeside,
    talk: d.voice.press,
    talkOver: d.voice.letGo,
    talkOfCopy: d.voice.pressForCopy,
    bank: d.does.onBank,
    favourite: (key) => favourite(d, key),
    addPlaces: () => {
      const only = noteInHand(d);
      if (only && canStandElsewhere(only)) d.notes.does.beginAdding(only);
    },
    sameElsewhere: () => sameElsewhere(d),
    page: (by) => paper.toPage(paper.pageNow + by),
    walking: cursor.walking,
    walk: cursor.walk,
    markWords: () => {
      const mark = cursor.mark(hand.pen);
      if (mark) hand.made.current(mark);
    },
    help: d.does.onKeys,
  };
}

function lendPen({ marks, hand }: DeskNow, key: string): void {
  marks.hold.letGo();
  hand.cursor.putAway();
  hand.trays?.lend(key);
}

/** The one note or suggestion that is held. */
function noteInHand({ marks, readOnly }: DeskNow): MarginMark | null {
  const [only, second] = marks.picked;
  return only && !second && !readOnly && isMarginMark(only) ? only : null;
}

/** Puts a favourite: on the words that were walked to, into the empty note that is held, or else where the pen goes next. */
function favourite(d: DeskNow, key: string): boolean {
  const { phrases, hand, readOnly } = d;
  const phrase = phrases.withKey(key);
  if (!phrase || readOnly) return false;
  if (!hand.cursor.walking) {
    phrases.arm(phrase);
    return true;
  }
  const mark = hand.cursor.mark(phrases.penOf(phrase));
  if (mark?.kind === 'note') phrases.does.putPhrase(mark, phrase);
  return true;
}

/** The places where the same words stand: a note stands there as well, of a suggestion they are left to be found. */
function sameElsewhere(d: DeskNow): void {
  const only = noteInHand(d);
  if (!only || !(isSuggestion(only) || canStandElsewhere(only))) return;
  const { does } = d.notes;
  const places = does.placesLike(only);
  if (isSuggestion(only)) does.letFind(only, places);
  else does.addPlaces(only, places);
}

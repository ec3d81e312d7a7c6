import type { Mark } from '@jotmark/core';
import { ZOOM_STEP } from '../hand/zoom.ts';
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
      hand.pad.current?.giveUp();
      cursor.putAway();
      hold.letGo();
    },
    edit: hold.edit,
    grade: () => d.fields.grade.current?.focus(),
    closing: () => d.fields.closing.current?.focus(),
    larger: () => paper.step(ZOOM_STEP),
    smaller: () => paper.step(1 / ZOOM_STEP),
    fit: paper.setWish,
    turn: () => !readOnly && d.turnPage(page),
    slip: () => lay(layout.only ? { only: null } : { slip: !layout.slip }),
    strip: () => lay({ strip: !layout.strip }),
    pageStrip: () => lay({ pages: !layout.pages }),
    margin: () => lay({ margin: layout.margin === 'wide' ? 'narrow' : 'wide' }),
    nextDocument: paper.nextDocument,
    find: d.finding.begin,
    beside: d.does.onBeside,
    page: (by) => paper.toPage(paper.pageNow + by),
    walking: cursor.walking,
    walk: cursor.walk,
    markWords: () => {
      const mark = cursor.mark(hand.pen);
      if (mark) hold.make(mark);
    },
    help: d.does.onKeys,
  };
}

function lendPen({ marks, hand }: DeskNow, key: string): void {
  marks.hold.letGo();
  hand.cursor.putAway();
  hand.trays?.lend(key);
}

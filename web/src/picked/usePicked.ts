import {
  coverOfAll,
  inReadingOrder,
  isMovable,
  isResizable,
  isWorded,
  type Mark,
  type MarkId,
  moveMark,
  type Pen,
  resizeMark,
  saysNothing,
  steppedBox,
  withPen,
  withWidth,
} from '@jotmark/core';
import { useCallback, useMemo, useRef, useState } from 'react';
import { toast } from '../frame/toast.ts';
import { putChange, removeChange, standing } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { formulasFor } from '../paper/looks.ts';
import { measureHand } from '../paper/measure.ts';
import type { ShownPage } from '../paper/page-list.ts';
import { plural } from '../time/words.ts';
import { keepMarks, keptMarks, putDown } from './kept-marks.ts';

interface Options {
  readonly keeper: SheetKeeper;
  readonly readOnly: boolean;
  /** All marks as they are shown. */
  readonly shown: readonly Mark[];
  /** Commits words that are being typed. */
  flush(): void;
  /** A mark with words is let go: what becomes of it then. */
  left?(mark: Mark): void;
}

/** Points that an arrow key makes a mark larger. */
const GROWTH = 4;

/** What is picked on the desk, and all that can be done with it. Every kind of mark has the same life. */
export function usePicked({ keeper, readOnly, shown, flush, left }: Options) {
  const leaves = useRef(left);
  leaves.current = left;
  const [ids, setIds] = useState<readonly MarkId[]>(NONE);
  // What is held is known at once, not only when it was rendered: letting go twice in one move takes an empty note away once.
  const held = useRef<readonly MarkId[]>(NONE);
  const hold = useCallback((next: readonly MarkId[]) => {
    held.current = next;
    setIds(next);
  }, []);
  const [editing, setEditing] = useState(false);
  const marks = useMemo(() => shown.filter((m) => ids.includes(m.id)), [shown, ids]);

  /** Lets go of all; words that were never written go as well: they were a slip of the pen. */
  const letGo = useCallback(() => {
    flush();
    const before = held.current;
    hold(NONE);
    setEditing(false);
    for (const id of before) {
      const mark = keeper.view.sheet.marks.get(id)?.value;
      if (!mark) continue;
      if (saysNothing(mark)) keeper.do([removeChange(keeper, mark)], `words:${id}`);
      else leaves.current?.(mark);
    }
  }, [keeper, flush, hold]);

  const pick = useCallback(
    (which: readonly Mark[], how: { readonly edit?: boolean; readonly add?: boolean } = {}) => {
      // A pattern note is picked as a whole, wherever it was touched.
      const chosen = [...new Set(which.map((m) => m.id))];
      if (how.add) {
        // What was picked already is let go again.
        const before = held.current;
        hold([
          ...before.filter((id) => !chosen.includes(id)),
          ...chosen.filter((id) => !before.includes(id)),
        ]);
        return setEditing(false);
      }
      const before = held.current;
      if (chosen.length !== before.length || chosen.some((id) => !before.includes(id))) letGo();
      hold(chosen);
      setEditing(how.edit === true && chosen.length === 1 && isWorded(which[0]!));
    },
    [letGo, hold],
  );

  /** Puts a mark there and holds it, with the cursor in its words or not. */
  const lay = (mark: Mark, edit: boolean) => {
    keeper.do([putChange(keeper, mark, null)], isWorded(mark) ? `words:${mark.id}` : null);
    letGo();
    hold([mark.id]);
    setEditing(edit);
  };
  const make = (mark: Mark) => {
    if (isWorded(mark)) lay(mark, true);
    else keeper.do([putChange(keeper, mark, null)]);
  };
  const takeAway = (which: readonly Mark[]) => {
    flush();
    const there = [...new Set(which.map((m) => standing(keeper, m)))].filter((m) => m !== null);
    keeper.do(there.map((m) => removeChange(keeper, m)));
    hold(NONE);
    setEditing(false);
  };
  /** Every picked mark as `remade` gives it; false where nothing changes. */
  const remake = (remade: (mark: Mark) => Mark, merge: string | null = null): boolean => {
    if (readOnly) return false;
    const changed = marks.map((m) => [m, remade(m)] as const).filter(([was, now]) => now !== was);
    keeper.do(
      changed.map(([was, now]) => putChange(keeper, now, was)),
      merge,
    );
    return changed.length > 0;
  };
  const key = ids.join();
  const add = (made: readonly Mark[], left: number) => {
    if (left)
      toast(
        `${plural(left, 'mark belongs', 'marks belong')} to the words or the page it lies on, and stayed behind.`,
      );
    if (made.length === 0) return;
    keeper.do(made.map((m) => putChange(keeper, m, null)));
    letGo();
    hold(made.map((m) => m.id));
  };
  const place = (page: Pick<ShownPage, 'document' | 'page'>) => ({
    document: page.document,
    page: page.page,
    newId: () => newId<MarkId>(),
    madeAt: Date.now(),
  });

  return {
    marks,
    editing: editing && marks.length === 1 && !readOnly,
    pick,
    letGo,
    make,
    lay,
    takeAway,
    edit() {
      const only = marks.length === 1 ? marks[0]! : null;
      if (only && isWorded(only) && !readOnly) setEditing(true);
    },
    nudge: (dx: number, dy: number) =>
      marks.some(isMovable) && remake((m) => moveMark(m, dx, dy), `nudge:${key}`),
    /** Larger or smaller by a step to the right or down; words alone become wider to the right and larger down. */
    grow(dx: number, dy: number): boolean {
      const from = coverOfAll(marks.filter(isResizable));
      if (!from) return false;
      const only = marks.length === 1 ? marks[0]! : null;
      if (only?.kind === 'text' && dx)
        return remake(
          () => withWidth(only, only.w + dx * GROWTH, measureHand, formulasFor(only.words)),
          `grow:${key}`,
        );
      const to = steppedBox(marks.filter(isResizable), from, dx * GROWTH, dy * GROWTH);
      return remake((m) => resizeMark(m, from, to), `grow:${key}`);
    },
    changePen: (pen: Pen) => remake((m) => withPen(m, pen)),
    copy() {
      if (marks.length === 0) return;
      keepMarks(marks);
      toast(`${plural(marks.length, 'mark', 'marks')} copied: Ctrl V puts them on the page you look at.`);
    },
    /** Puts copied marks on a page, of this copy or another. */
    putDown(page: Pick<ShownPage, 'document' | 'page'> | undefined) {
      if (!page || readOnly || keptMarks().length === 0) return;
      const { marks: made, left } = putDown(keptMarks(), place(page));
      add(made, left);
    },
    double() {
      if (readOnly) return;
      const made = marks.flatMap((m) => putDown([m], place(m)).marks);
      add(made, marks.length - made.length);
    },
    /** From mark to mark in reading order, without a pointer. */
    walk(by: 1 | -1): Mark | null {
      const all = inReadingOrder(shown);
      const at = all.findIndex((m) => m.id === marks.at(-1)?.id);
      const next = all[at < 0 ? (by > 0 ? 0 : all.length - 1) : (at + by + all.length) % all.length];
      if (next) pick([next]);
      return next ?? null;
    },
  };
}

const NONE: readonly MarkId[] = [];

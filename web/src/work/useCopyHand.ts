import { isMovable, type Mark, type MarkId, moveMark, STUDENT_TRAY, standingMarks } from '@jotmark/core';
import { useMemo, useRef, useState } from 'react';
import type { PadHost } from '../hand/pad.ts';
import { usePad } from '../hand/usePad.ts';
import { useZoom } from '../hand/useZoom.ts';
import { exchange, putChange, removeChange } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { indexOfMark, marksByPage } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import type { CopyPages } from './useCopyPages.ts';

interface Options {
  readonly keeper: SheetKeeper;
  readonly sheet: KeeperView['sheet'];
  readonly copy: CopyPages;
  readonly readOnly: boolean;
}

/** The student's hand on the copy: what is drawn, picked, moved, rubbed out. */
export function useCopyHand({ keeper, sheet, copy, readOnly }: Options) {
  const { pages, ready } = copy;
  const [taken, setTaken] = useState(0);
  const [pickedIds, setPickedIds] = useState<readonly MarkId[]>([]);
  const [note, setNote] = useState<MarkId | null>(null);
  const [dragged, setDragged] = useState<readonly Mark[] | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const liveCanvas = useRef<HTMLCanvasElement>(null);
  const { zoom, measured, zoomBy } = useZoom(scroller, pages, ready, 0);
  const shown = useMemo(
    () => standingMarks(sheet).map((m) => dragged?.find((d) => d.id === m.id) ?? m),
    [sheet, dragged],
  );
  const last = useRef<(readonly Mark[])[]>([]);
  const byPage = useMemo(() => {
    last.current = marksByPage(shown, pages, last.current);
    return last.current;
  }, [shown, pages]);
  const picked = useMemo(() => shown.filter((m) => pickedIds.includes(m.id)), [shown, pickedIds]);
  const pen = readOnly ? STUDENT_TRAY[0]! : STUDENT_TRAY[taken]!;
  const host: PadHost = {
    pen: () => pen,
    page: (document, page) => {
      const p = pages[indexOfMark(pages, { document, page })];
      return p ? { document, page, view: viewOf(p.frame, p.turn, zoom), text: null } : null;
    },
    marksOn: (page) => byPage[indexOfMark(pages, page)] ?? [],
    newMarkId: () => newId<MarkId>(),
    now: () => Date.now(),
    picked: () => picked,
    make: (mark) => {
      const made = mark.kind === 'note' ? ownNote(mark) : mark;
      keeper.do([putChange(keeper, made, null)]);
      if (made.kind === 'note') setNote(made.id);
    },
    rubOut: ({ gone, come }, sweep) => keeper.do(exchange(keeper, gone, come), `sweep:${sweep}`),
    drag: (marks) => !readOnly && setDragged(marks),
    move: (before, after) =>
      !readOnly && keeper.do(after.map((mark, i) => putChange(keeper, mark, before[i]!))),
    select: (marks) => setPickedIds(marks.map((m) => m.id)),
    cannot: () => {},
    zoomBy,
    fingerWrites: true,
  };
  const pad = usePad(scroller, liveCanvas, host, ready);
  return {
    scroller,
    liveCanvas,
    zoom,
    measured,
    shown,
    byPage,
    picked,
    taken,
    /** The own note whose words are open. */
    note,
    setNote,
    takePen: (index: number) => !readOnly && setTaken(index),
    giveUp: () => pad.current?.giveUp(),
    letGo() {
      pad.current?.giveUp();
      setPickedIds([]);
    },
    removePicked() {
      if (!readOnly) keeper.do(picked.map((mark) => removeChange(keeper, mark)));
    },
    /** False when nothing can be moved. */
    nudge(dx: number, dy: number): boolean {
      const movable = picked.filter(isMovable);
      if (readOnly || movable.length === 0) return false;
      keeper.do(
        movable.map((mark) => putChange(keeper, moveMark(mark, dx, dy), mark)),
        `nudge:${pickedIds.join()}`,
      );
      return true;
    },
  };
}

/** A student's note stands at a spot: of a frame that was drawn, at its corner. */
function ownNote(mark: Extract<Mark, { kind: 'note' }>): Mark {
  const { place } = mark;
  return place.on === 'box' ? { ...mark, place: { on: 'spot', x: place.box[0], y: place.box[1] } } : mark;
}

export type CopyHand = ReturnType<typeof useCopyHand>;

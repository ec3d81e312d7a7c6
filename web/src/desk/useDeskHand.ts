import {
  type Desk,
  erasedPlaces,
  type Mark,
  type MarkId,
  PEN_KEYS,
  type Pen,
  type PersonId,
  trayOut,
} from '@jotmark/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toast } from '../frame/toast.ts';
import type { PadHost } from '../hand/pad.ts';
import { keepStroke, takeStroke } from '../hand/stroke-in-hand.ts';
import { usePad } from '../hand/usePad.ts';
import { useWordWalk } from '../hand/useWordWalk.ts';
import { exchange, putChange } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { indexOfMark } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { useTrays } from '../pens/useTrays.ts';
import { recorder } from '../voice/recorder-here.ts';
import type { DeskMarks } from './useDeskMarks.ts';
import type { DeskNotes } from './useDeskNotes.ts';
import type { DeskPaper } from './useDeskPaper.ts';

const NO_MARKS: readonly Mark[] = [];
/** Where nothing can be written the pen reads. */
const READING: Pen = { tool: 'hand', name: 'read' };

interface Options {
  readonly desk: Desk;
  readonly me: PersonId;
  readonly keeper: SheetKeeper;
  readonly fixed: boolean;
  readonly paper: DeskPaper;
  readonly marks: DeskMarks;
  readonly notes: DeskNotes;
}

/** The hand on the paper: which pen it holds, and what the pen does. */
export function useDeskHand({ desk, me, keeper, fixed, paper, marks, notes }: Options) {
  const { pages, texts, zoom, scroller, ready } = paper;
  const { hold, byPage, picked } = marks;
  const readOnly = desk.handedBack;
  const trays = useTrays(desk.assignment.most !== null);
  const own: Pen = fixed || !trays ? READING : trays.pen;
  // While places are added or a phrase was tapped, the hand holds the pen for that.
  const [lent, lend] = useState<Pen | null>(null);
  const pen = fixed ? READING : (notes.pen ?? lent ?? own);
  /** What becomes of a mark that the pen made. */
  const made = useRef<(mark: Mark) => void>(notes.does.make);
  const liveCanvas = useRef<HTMLCanvasElement>(null);
  const cursor = useWordWalk(paper);
  const host: PadHost = {
    pen: () => pen,
    page: (document, page) => {
      const i = indexOfMark(pages, { document, page });
      const p = pages[i];
      return p ? { document, page, view: viewOf(p.frame, p.turn, zoom), text: texts[i] ?? null } : null;
    },
    marksOn: (page) => byPage[indexOfMark(pages, page)] ?? NO_MARKS,
    newMarkId: () => newId<MarkId>(),
    now: () => Date.now(),
    picked: () => picked,
    make: (mark, began) => {
      made.current(mark);
      // What is drawn while one talks is written again in time with the voice.
      recorder.tie(mark.id, began);
    },
    rubOut: ({ gone, come }, sweep) => {
      const { marks: whole, left } = erasedPlaces(gone);
      keeper.do(
        [...exchange(keeper, whole, come), ...left.map((l) => putChange(keeper, l.now, l.was))],
        `sweep:${sweep}`,
      );
      recorder.retie(idsOf(gone), idsOf(come));
    },
    drag: marks.drag,
    move: (before, after) => !fixed && keeper.do(after.map((mark, i) => putChange(keeper, mark, before[i]!))),
    select: (which, how) => hold.pick(which, how),
    cannot: (which) => void toast(`There are no words here for “${which.name}”.`),
    zoomBy: paper.zoomBy,
    makesExact: true,
    keepSafe: (mark) => keepStroke(me, desk.handIn.id, mark),
  };
  useEffect(
    () =>
      takeStroke(me, desk.handIn.id, (mark) => {
        if (!readOnly && !keeper.view.sheet.marks.has(mark.id)) keeper.do([putChange(keeper, mark, null)]);
      }),
    [me, desk.handIn.id, keeper, readOnly],
  );
  const pad = usePad(scroller, liveCanvas, host, ready);
  marks.writes.current = () => pad.current?.busy ?? false;
  const pensAtKeys = useMemo(
    () => (trays ? trayOut(trays.trays).pens.map((p, n) => ({ key: PEN_KEYS[n]!, pen: p })) : []),
    [trays?.trays],
  );
  return { trays, pen, own, lend, made, liveCanvas, cursor, host, pad, pensAtKeys };
}

const idsOf = (marks: readonly Mark[]) => marks.map((m) => m.id);

export type DeskHand = ReturnType<typeof useDeskHand>;

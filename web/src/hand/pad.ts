import {
  type Box,
  bandsOver,
  type DocumentId,
  exactShape,
  gathered,
  isMarkingPen,
  isMovable,
  isWorded,
  MAX_STROKE_POINTS,
  type Mark,
  type MarkId,
  markAt,
  markOfDrawn,
  moveMark,
  type Pen,
  POINT_FIELDS,
  pageMapper,
  samplesInto,
  straightStroke,
  TAP,
  wordAt,
  wordsBetween,
} from '@jotmark/core';
import type { Act, PadPage } from './act.ts';
import { type Exchange, piecesLeft } from './eraser.ts';
import { Fingers } from './fingers.ts';
import type { LiveLayer } from './live.ts';

export type { PadPage } from './act.ts';
export type { Exchange } from './eraser.ts';

/** What the pad needs of the desk. It makes marks and asks for nothing to be rendered while the pen is down. */
export interface PadHost {
  pen(): Pen;
  page(document: DocumentId, page: number): PadPage | null;
  marksOn(page: PadPage): readonly Mark[];
  /** What is picked now: dragged together when one of it is. */
  picked(): readonly Mark[];
  newMarkId(): MarkId;
  now(): number;
  /** `began`: when the pen came down for it, by the page's clock. */
  make(mark: Mark, began: number): void;
  /** Rubs out: whole marks, or of a stroke a part. All of one `sweep` of the eraser is undone at once. */
  rubOut(what: Exchange, sweep: string): void;
  /** Shows marks where they are being dragged; null when the drag is over. */
  drag(marks: readonly Mark[] | null): void;
  move(before: readonly Mark[], after: readonly Mark[]): void;
  /** Picks marks; with `add`, besides what is picked; with `edit`, the words of one are ready to be written. */
  select(marks: readonly Mark[], how: { readonly edit: boolean; readonly add: boolean }): void;
  /** The pen can do nothing here. */
  cannot(pen: Pen): void;
  zoomBy(factor: number, clientX: number, clientY: number): void;
  /** Keeps a stroke that is being drawn where a tab that dies leaves it; null when it has settled. */
  keepSafe?(mark: Mark | null): void;
  /** Whether one finger writes with what was taken, as long as no pen has been seen. Two fingers always move the paper. */
  readonly fingerWrites?: boolean;
  /** Whether a stroke that is held still at its end becomes an exact line, ring or box. */
  readonly makesExact?: boolean;
}

/** A hand that rests on the glass while the pen writes does nothing; so does one that is lifted a moment later. */
const PALM_MS = 700;
/** How near to a mark the eraser and a tap must come, in CSS pixels. */
const REACH = 7;
/** A highlighter that starts this near to a line means its words, in points. */
const SNAP = 9;
/** A stroke whose end is held still for so long, in milliseconds, becomes exact; moved by less than this many CSS pixels it is still. */
const HOLD_MS = 550;
const STILL = 4;
/** So often, in milliseconds, a stroke that is being drawn is kept safe. */
const SAFE_MS = 200;

type Point = readonly [number, number];

/**
 * Tells pen, touch and mouse apart: the pen and the mouse use what was taken from the tray, fingers move the paper and pinch it (where the host
 * says so, one finger writes as long as no pen was seen), the palm does nothing. Listens on the scroller itself; React is not asked.
 */
export class Pad {
  readonly #scroller: HTMLElement;
  readonly #live: LiveLayer;
  readonly #host: PadHost;
  #act: Act | null = null;
  #lastPen = Number.NEGATIVE_INFINITY;
  readonly #fingers: Fingers;
  #hold: ReturnType<typeof setTimeout> | undefined;
  #safe: ReturnType<typeof setTimeout> | undefined;
  #stillX = 0;
  #stillY = 0;
  #stillSince = 0;
  readonly #off = new AbortController();

  constructor(scroller: HTMLElement, live: LiveLayer, host: PadHost) {
    this.#scroller = scroller;
    this.#live = live;
    this.#host = host;
    this.#fingers = new Fingers(scroller, {
      zoomBy: (factor, x, y) => this.#host.zoomBy(factor, x, y),
      busy: () => this.#act !== null,
      tap: (e) => this.#fingerTap(e),
    });
    const on = <K extends keyof HTMLElementEventMap>(
      type: K,
      heard: (e: HTMLElementEventMap[K]) => void,
      passive = false,
    ) => scroller.addEventListener(type, heard, { signal: this.#off.signal, passive });
    on('pointerdown', (e) => this.#down(e));
    // Caught at the window before anything else hears of it: while the pen is down a move is the pad's alone.
    window.addEventListener(
      'pointermove',
      (e) => {
        if (e.pointerId !== this.#act?.pointer && !this.#fingers.pans(e.pointerId)) return;
        e.stopImmediatePropagation();
        this.#moveTo(e);
      },
      { signal: this.#off.signal, capture: true },
    );
    on('pointermove', (e) => {
      if (e.pointerType === 'touch') this.#fingers.move(e);
      else if (e.pointerType === 'pen') this.#lastPen = e.timeStamp;
    });
    on('pointerup', (e) => this.#up(e, false));
    on('pointercancel', (e) => this.#up(e, true));
    // A tab that is closed in the middle of a stroke leaves the stroke as far as it came, before anything else says good-bye.
    window.addEventListener('pagehide', () => this.#act && this.#leave(this.#act), {
      signal: this.#off.signal,
      capture: true,
    });
    on('contextmenu', (e) => this.#onPaper(e.target) && e.preventDefault());
    on('wheel', (e) => {
      if (!e.ctrlKey) return;
      e.preventDefault();
      this.#host.zoomBy(Math.exp(-Math.max(-60, Math.min(60, e.deltaY)) / 200), e.clientX, e.clientY);
    });
  }

  get busy(): boolean {
    return this.#act !== null;
  }

  /** Gives up what is being drawn. */
  giveUp(): void {
    this.#letHold();
    if (this.#act?.dragged.length) this.#host.drag(null);
    if (this.#act?.markId) this.#host.keepSafe?.(null);
    this.#act = null;
    this.#live.clear();
  }

  close(): void {
    this.giveUp();
    this.#fingers.rest();
    this.#off.abort();
  }

  #onPaper(target: EventTarget | null): HTMLElement | null {
    const element = target as HTMLElement | null;
    // Words and signs in the page and its margin are handled where they are.
    if (element?.closest('[data-own-pointer]')) return null;
    return element?.closest<HTMLElement>('[data-page]') ?? null;
  }

  #down(e: PointerEvent): void {
    this.#fingers.rest();
    if (e.pointerType === 'touch' && !this.#writesWithFinger()) {
      // A second finger: the first was not meant to write.
      if (this.#act && this.#host.fingerWrites && this.#act.travelled < 3 * TAP) this.giveUp();
      if (!this.#act && e.timeStamp - this.#lastPen >= PALM_MS) this.#fingers.down(e);
      return;
    }
    if (e.pointerType === 'pen') this.#lastPen = e.timeStamp;
    const paper = this.#onPaper(e.target);
    const eraserEnd = e.pointerType === 'pen' && (e.button === 5 || (e.buttons & 32) !== 0);
    // The button on the pen's barrel lends the hand.
    const barrel = e.pointerType === 'pen' && e.button === 2;
    if (this.#act || (e.button !== 0 && !eraserEnd && !barrel && e.button !== 1)) return;
    if (e.button === 1 || (!paper && !(e.target as HTMLElement).closest('[data-own-pointer]')))
      return this.#fingers.startPan(e);
    if (!paper) return;
    e.preventDefault();
    (document.activeElement as HTMLElement | null)?.blur();
    const pen: Pen = eraserEnd
      ? { tool: 'eraser', name: 'eraser end', part: false }
      : barrel
        ? { tool: 'hand', name: 'barrel' }
        : this.#host.pen();
    this.#begin(e, paper, pen);
  }

  /** A finger that comes first, with something to draw in hand, where no pen has ever been seen. */
  #writesWithFinger(): boolean {
    const { tool } = this.#host.pen();
    return (
      this.#host.fingerWrites === true &&
      !['hand', 'lasso', 'note', 'stamp', 'text', 'add'].includes(tool) &&
      this.#lastPen === Number.NEGATIVE_INFINITY &&
      this.#act === null &&
      this.#fingers.count === 0
    );
  }

  #begin(e: PointerEvent, paper: HTMLElement, pen: Pen): void {
    const page = this.#host.page(paper.dataset.document as DocumentId, Number(paper.dataset.page));
    if (!page) return;
    this.#scroller.setPointerCapture(e.pointerId);
    const rect = paper.getBoundingClientRect();
    const box = this.#scroller.getBoundingClientRect();
    const spot = { view: page.view, left: rect.left - box.left, top: rect.top - box.top };
    const toPage = pageMapper(page.view);
    const start = toPage(e.clientX - rect.left, e.clientY - rect.top);
    const points: number[] = [];
    const act: Act = {
      pointer: e.pointerId,
      page,
      spot,
      rect,
      toPage,
      pen,
      id: String(e.timeStamp),
      began: e.timeStamp,
      markId: null,
      start,
      startClient: [e.clientX, e.clientY],
      points,
      sample: samplesInto(points, page.view),
      at: start,
      range: null,
      onText: page.text !== null && wordAt(page.text, start, SNAP) !== null,
      dragged: [],
      draggedTo: [],
      travelled: 0,
      straight: e.shiftKey,
      exact: null,
      gone: new Set(),
      pieces: new Map(),
    };
    if (pen.tool === 'hand') {
      const hit = this.#hit(act, start);
      const picked = this.#host.picked();
      const together = hit && picked.some((m) => m.id === hit.id);
      if (!together || e.shiftKey) this.#host.select(hit ? [hit] : [], { edit: false, add: e.shiftKey });
      if (!hit) return this.#fingers.startPan(e);
      act.dragged = (together ? picked : [hit]).filter(isMovable);
    }
    this.#act = act;
    this.#extend(act, [e]);
  }

  #moveTo(e: PointerEvent): void {
    if (e.pointerType === 'pen') this.#lastPen = e.timeStamp;
    if (this.#fingers.pans(e.pointerId)) return this.#fingers.panTo(e);
    const act = this.#act;
    if (!act || act.pointer !== e.pointerId) return;
    const coalesced = e.getCoalescedEvents?.() ?? [];
    this.#extend(act, coalesced.length ? coalesced : [e]);
  }

  /** Takes new samples into what is being done. */
  #extend(act: Act, events: readonly PointerEvent[]): void {
    const last = events.at(-1)!;
    act.travelled = Math.max(
      act.travelled,
      Math.hypot(last.clientX - act.startClient[0], last.clientY - act.startClient[1]),
    );
    act.straight = last.shiftKey;
    const { pen } = act;
    if (pen.tool === 'ink') return this.#write(act, events, pen);
    act.at = this.#at(act, last);
    switch (pen.tool) {
      case 'highlight':
        if (act.onText) this.#select(act, last);
        else {
          this.#sample(act, events);
          if (act.straight) this.#straighten(act);
          this.#live.free(act.spot, act.points, pen.width, pen.colour);
        }
        return;
      case 'note':
        if (act.onText && act.travelled > TAP) this.#select(act, last);
        else if (!act.onText && act.travelled > 2 * TAP) this.#preview(act);
        return;
      case 'cut':
      case 'swap':
        return this.#select(act, last);
      case 'line':
      case 'arrow':
      case 'box':
      case 'ring':
      case 'stamp':
        return this.#preview(act);
      case 'text':
      case 'add':
        return;
      case 'eraser':
        for (const e of events) this.#erase(act, e, pen.part);
        return;
      case 'lasso':
        this.#sample(act, events);
        this.#live.loop(act.spot, loopOf(act.points));
        return;
      case 'hand':
        if (act.dragged.length && act.travelled > TAP / 2) this.#drag(act);
        return;
    }
  }

  #straighten(act: Act): void {
    act.points = straightStroke(act.points);
    act.sample = samplesInto(act.points, act.page.view);
  }

  #write(act: Act, events: readonly PointerEvent[], pen: Pen & { tool: 'ink' }): void {
    this.#sample(act, events);
    const last = events.at(-1)!;
    const dx = last.clientX - this.#stillX;
    const dy = last.clientY - this.#stillY;
    if (dx * dx + dy * dy > STILL * STILL) {
      this.#stillX = last.clientX;
      this.#stillY = last.clientY;
      this.#stillSince = performance.now();
      act.exact = null;
      this.#hold ??= setTimeout(() => this.#watch(act), HOLD_MS);
    }
    if (this.#host.keepSafe) this.#safe ??= setTimeout(() => this.#keepSafe(act), SAFE_MS);
    if (act.straight) this.#straighten(act);
    if (!act.exact) this.#live.ink(act.spot, act.points, pen.width, pen.colour);
  }

  /** Looks, now and then, whether the pen stands still at the end of a stroke: a line, ring or box drawn by hand becomes exact then. One clock for a whole stroke: a move must cost nothing. */
  #watch(act: Act): void {
    this.#hold = undefined;
    if (this.#act !== act) return;
    const left = this.#stillSince + HOLD_MS - performance.now();
    if (left > 1) {
      this.#hold = setTimeout(() => this.#watch(act), left);
      return;
    }
    act.exact = this.#host.makesExact ? exactShape(act.points) : null;
    if (act.exact) this.#preview(act);
  }

  #keepSafe(act: Act): void {
    this.#safe = undefined;
    if (this.#act !== act || !isMarkingPen(act.pen)) return;
    act.markId ??= this.#host.newMarkId();
    const mark = markOfDrawn(act, act.pen, act.markId, this.#host.now());
    if (mark) this.#host.keepSafe?.(mark);
  }

  #letHold(): void {
    clearTimeout(this.#hold);
    this.#hold = undefined;
    clearTimeout(this.#safe);
    this.#safe = undefined;
  }

  #preview(act: Act): void {
    const mark = isMarkingPen(act.pen) && markOfDrawn(act, act.pen, PREVIEW, 0);
    if (mark) this.#live.mark(act.spot, mark);
  }

  #sample(act: Act, events: readonly PointerEvent[]): void {
    const { left, top } = act.rect;
    for (const e of events) {
      if (act.points.length >= MAX_STROKE_POINTS * POINT_FIELDS) return;
      act.sample(e.clientX - left, e.clientY - top, e.pointerType === 'pen' ? e.pressure : 0.5);
    }
  }

  #select(act: Act, e: PointerEvent): void {
    const range = wordsBetween(act.page.text!, act.start, this.#at(act, e));
    if (!range || !isMarkingPen(act.pen)) return;
    if (range.from === act.range?.from && range.to === act.range.to) return;
    act.range = range;
    this.#live.bands(act.spot, bandsOver(act.page.text!, range) as Box[], act.pen.colour);
  }

  #erase(act: Act, e: PointerEvent, part: boolean): void {
    const at = this.#at(act, e);
    if (part) return this.#erasePart(act, at);
    const hit = this.#hit(act, at);
    if (hit) this.#host.rubOut({ gone: [hit], come: [] }, act.id);
  }

  /** Strokes lose the part that was gone over; what is left of each are strokes of their own. */
  #erasePart(act: Act, at: Point): void {
    const left = piecesLeft(act, at, this.#host.marksOn(act.page), () => this.#host.newMarkId());
    for (const what of left) this.#host.rubOut(what, act.id);
  }

  #drag(act: Act): void {
    const dx = round(act.at[0] - act.start[0]);
    const dy = round(act.at[1] - act.start[1]);
    act.draggedTo = act.dragged.map((m) => moveMark(m, dx, dy));
    this.#host.drag(act.draggedTo);
  }

  #up(e: PointerEvent, cancelled: boolean): void {
    if (e.pointerType === 'touch' && this.#act?.pointer !== e.pointerId) return this.#fingers.up(e);
    if (this.#fingers.endPan(e.pointerId)) return;
    const act = this.#act;
    if (!act || act.pointer !== e.pointerId) return;
    // A stroke that the system cut off is kept as far as it came. A lifted pen presses no more: its last sample draws nothing.
    if (!cancelled && (e.pointerType !== 'pen' || act.pen.tool !== 'ink')) this.#extend(act, [e]);
    this.#finish(act);
  }

  /** What was kept safe stays so: whether its mark is written before the tab is gone nobody knows. */
  #leave(act: Act): void {
    if (act.pen.tool === 'ink' && this.#host.keepSafe) this.#keepSafe(act);
    this.#finish(act, true);
  }

  #finish(act: Act, leaving = false): void {
    this.#act = null;
    this.#letHold();
    if (act.draggedTo.length) this.#host.move(act.dragged, act.draggedTo);
    this.#host.drag(null);
    this.#settle(act);
    if (act.markId && !leaving) this.#host.keepSafe?.(null);
    this.#live.clear();
  }

  /** What a finished act leaves. */
  #settle(act: Act): void {
    const { pen } = act;
    if (pen.tool === 'lasso') {
      const marks = gathered(act, this.#host.marksOn(act.page));
      this.#host.select(marks, { edit: false, add: act.straight });
      return;
    }
    if (!isMarkingPen(pen)) return;
    // A tap with words in hand on what has words already means those.
    if (act.travelled <= TAP && (pen.tool === 'note' || pen.tool === 'text' || pen.tool === 'add')) {
      const there = this.#hit(act, act.start);
      if (there && isWorded(there) && there.kind === pen.tool)
        return this.#host.select([there], { edit: true, add: false });
    }
    const mark = markOfDrawn(act, pen, act.markId ?? this.#host.newMarkId(), this.#host.now());
    if (mark) this.#host.make(mark, act.began);
    else if (pen.tool === 'cut' || pen.tool === 'swap' || pen.tool === 'add') this.#host.cannot(pen);
  }

  #hit(act: Act, at: Point): Mark | null {
    return markAt(this.#host.marksOn(act.page), at, REACH / act.page.view.zoom);
  }

  #at(act: Act, e: PointerEvent): Point {
    return act.toPage(e.clientX - act.rect.left, e.clientY - act.rect.top);
  }

  /** A finger's tap does what needs no drawing: it selects, and with a note pen it pins a note. */
  #fingerTap(e: PointerEvent): void {
    const paper = document.elementFromPoint(e.clientX, e.clientY)?.closest<HTMLElement>('[data-page]');
    if (!paper || e.type === 'pointercancel') return;
    const pen = this.#host.pen();
    this.#begin(e, paper, TAPPED.has(pen.tool) ? pen : { tool: 'hand', name: 'finger' });
    const act = this.#act as Act | null;
    this.#act = null;
    this.#fingers.endPan(e.pointerId);
    if (act) this.#settle(act);
    this.#live.clear();
  }
}

/** What a finger's tap does without drawing. */
const TAPPED: ReadonlySet<Pen['tool']> = new Set(['note', 'stamp', 'text', 'add']);

/** Stands for the id of a mark that is not made yet. */
const PREVIEW = '' as MarkId;

function loopOf(points: readonly number[]): Point[] {
  const out: Point[] = [];
  for (let i = 0; i < points.length; i += POINT_FIELDS) out.push([points[i]! / 100, points[i + 1]! / 100]);
  return out;
}

const round = (n: number) => Math.round(n * 100) / 100;

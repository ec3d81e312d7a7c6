import {
  type Box,
  bandsOver,
  type DocumentId,
  isMovable,
  MAX_STROKE_POINTS,
  type Mark,
  type MarkId,
  markAt,
  moveMark,
  type PageText,
  type PageView,
  type Pen,
  POINT_FIELDS,
  pageMapper,
  quantise,
  quoteOf,
  type WordRange,
  wordAt,
  wordsBetween,
} from '@jotmark/core';
import type { LiveLayer, PageSpot } from './live.ts';

export interface PadPage {
  readonly document: DocumentId;
  readonly page: number;
  readonly view: PageView;
  readonly text: PageText | null;
}

/** What the pad needs of the desk. It makes marks and asks for nothing to be rendered while the pen is down. */
export interface PadHost {
  pen(): Pen;
  page(document: DocumentId, page: number): PadPage | null;
  marksOn(page: PadPage): readonly Mark[];
  newMarkId(): MarkId;
  now(): number;
  make(mark: Mark): void;
  /** Takes marks away; all of one `sweep` of the eraser are undone at once. */
  rubOut(marks: readonly Mark[], sweep: string): void;
  /** Shows a mark where it is being dragged; null when the drag is over. */
  drag(mark: Mark | null): void;
  move(before: Mark, after: Mark): void;
  /** Picks a mark; with `edit`, a note's words are ready to be written. */
  select(mark: Mark | null, edit: boolean): void;
  zoomBy(factor: number, clientX: number, clientY: number): void;
  /** Whether one finger writes with what was taken, as long as no pen has been seen. Two fingers always move the paper. */
  readonly fingerWrites?: boolean;
}

/** A hand that rests on the glass while the pen writes does nothing; so does one that is lifted a moment later. */
const PALM_MS = 700;
/** A touch that moved less than this was a tap, in CSS pixels. */
const TAP = 6;
/** How near to a mark the eraser and a tap must come, in CSS pixels. */
const REACH = 7;
/** A highlighter that starts this near to a line means its words, in points. */
const SNAP = 9;

type Point = readonly [number, number];

/** One use of the pen from down to up. */
interface Act {
  readonly pointer: number;
  readonly page: PadPage;
  readonly spot: PageSpot;
  readonly rect: DOMRect;
  readonly toPage: ReturnType<typeof pageMapper>;
  readonly pen: Pen;
  readonly id: string;
  readonly start: Point;
  readonly startClient: Point;
  points: number[];
  range: WordRange | null;
  /** The drag began on words. */
  onText: boolean;
  /** The mark that was picked up, and where it is now. */
  dragged: Mark | null;
  draggedTo: Mark | null;
  travelled: number;
}

/**
 * Tells pen, touch and mouse apart: the pen and the mouse use what was taken from the tray, fingers move the paper and
 * pinch it, the palm does nothing. Listens on the scroller itself; React is not asked.
 */
export class Pad {
  readonly #scroller: HTMLElement;
  readonly #live: LiveLayer;
  readonly #host: PadHost;
  #act: Act | null = null;
  #lastPen = Number.NEGATIVE_INFINITY;
  readonly #fingers = new Map<number, Point>();
  #fingerTravel = 0;
  #speed: Point = [0, 0];
  #coasting = 0;
  #pan: { pointer: number; last: Point } | null = null;
  readonly #off = new AbortController();

  constructor(scroller: HTMLElement, live: LiveLayer, host: PadHost) {
    this.#scroller = scroller;
    this.#live = live;
    this.#host = host;
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
        if (e.pointerId !== this.#act?.pointer && e.pointerId !== this.#pan?.pointer) return;
        e.stopImmediatePropagation();
        this.#moveTo(e);
      },
      { signal: this.#off.signal, capture: true },
    );
    on('pointermove', (e) => {
      if (e.pointerType === 'touch') this.#fingerMove(e);
      else if (e.pointerType === 'pen') this.#lastPen = e.timeStamp;
    });
    on('pointerup', (e) => this.#up(e, false));
    on('pointercancel', (e) => this.#up(e, true));
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
    this.#act = null;
    this.#live.clear();
  }

  close(): void {
    this.giveUp();
    cancelAnimationFrame(this.#coasting);
    this.#off.abort();
  }

  #onPaper(target: EventTarget | null): HTMLElement | null {
    const element = target as HTMLElement | null;
    // Words and signs in the page and its margin are handled where they are.
    if (element?.closest('[data-own-pointer]')) return null;
    return element?.closest<HTMLElement>('[data-page]') ?? null;
  }

  #down(e: PointerEvent): void {
    cancelAnimationFrame(this.#coasting);
    if (e.pointerType === 'touch' && !this.#writesWithFinger()) {
      // A second finger: the first was not meant to write.
      if (this.#act && this.#host.fingerWrites && this.#act.travelled < 3 * TAP) this.giveUp();
      return this.#fingerDown(e);
    }
    if (e.pointerType === 'pen') this.#lastPen = e.timeStamp;
    const paper = this.#onPaper(e.target);
    const eraserEnd = e.pointerType === 'pen' && (e.button === 5 || (e.buttons & 32) !== 0);
    if (this.#act || (e.button !== 0 && !eraserEnd && e.button !== 1)) return;
    if (e.button === 1 || (!paper && !(e.target as HTMLElement).closest('[data-own-pointer]')))
      return this.#startPan(e);
    if (!paper) return;
    e.preventDefault();
    (document.activeElement as HTMLElement | null)?.blur();
    this.#begin(e, paper, eraserEnd ? { tool: 'eraser', name: 'eraser end' } : this.#host.pen());
  }

  /** A finger that comes first, with something to draw in hand, where no pen has ever been seen. */
  #writesWithFinger(): boolean {
    const { tool } = this.#host.pen();
    return (
      this.#host.fingerWrites === true &&
      tool !== 'hand' &&
      tool !== 'note' &&
      this.#lastPen === Number.NEGATIVE_INFINITY &&
      this.#act === null &&
      this.#fingers.size === 0
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
    const act: Act = {
      pointer: e.pointerId,
      page,
      spot,
      rect,
      toPage,
      pen,
      id: String(e.timeStamp),
      start,
      startClient: [e.clientX, e.clientY],
      points: [],
      range: null,
      onText: page.text !== null && wordAt(page.text, start, SNAP) !== null,
      dragged: null,
      draggedTo: null,
      travelled: 0,
    };
    if (pen.tool === 'hand') {
      const hit = this.#hit(act, start);
      this.#host.select(hit, false);
      if (hit && isMovable(hit)) act.dragged = hit;
      else if (!hit) return this.#startPan(e);
    }
    this.#act = act;
    this.#extend(act, [e]);
  }

  #moveTo(e: PointerEvent): void {
    if (e.pointerType === 'pen') this.#lastPen = e.timeStamp;
    if (this.#pan?.pointer === e.pointerId) return this.#panTo(e);
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
    const { pen } = act;
    switch (pen.tool) {
      case 'ink':
        this.#sample(act, events);
        this.#live.ink(act.spot, act.points, pen.width, pen.colour);
        return;
      case 'highlight':
        if (act.onText) this.#select(act, last);
        else {
          this.#sample(act, events);
          this.#live.free(act.spot, act.points, pen.width, pen.colour);
        }
        return;
      case 'note':
        if (act.onText && act.travelled > TAP) this.#select(act, last);
        return;
      case 'eraser':
        for (const e of events) this.#erase(act, e);
        return;
      case 'hand':
        if (act.dragged && act.travelled > TAP / 2) this.#drag(act, last);
        return;
    }
  }

  #sample(act: Act, events: readonly PointerEvent[]): void {
    for (const e of events) {
      if (act.points.length >= MAX_STROKE_POINTS * POINT_FIELDS) return;
      const [x, y] = this.#at(act, e);
      const pressure = e.pointerType === 'pen' ? e.pressure : 0.5;
      const [qx, qy, qp] = quantise(x, y, pressure);
      const n = act.points.length;
      if (n && act.points[n - 3] === qx && act.points[n - 2] === qy) continue;
      act.points.push(qx, qy, qp);
    }
  }

  #select(act: Act, e: PointerEvent): void {
    const range = wordsBetween(act.page.text!, act.start, this.#at(act, e));
    if (!range || !('colour' in act.pen)) return;
    if (range.from === act.range?.from && range.to === act.range.to) return;
    act.range = range;
    this.#live.bands(act.spot, bandsOver(act.page.text!, range) as Box[], act.pen.colour);
  }

  #erase(act: Act, e: PointerEvent): void {
    const hit = this.#hit(act, this.#at(act, e));
    if (hit) this.#host.rubOut([hit], act.id);
  }

  #drag(act: Act, e: PointerEvent): void {
    const [x, y] = this.#at(act, e);
    act.draggedTo = moveMark(act.dragged!, round(x - act.start[0]), round(y - act.start[1]));
    this.#host.drag(act.draggedTo);
  }

  #up(e: PointerEvent, cancelled: boolean): void {
    if (e.pointerType === 'touch' && this.#act?.pointer !== e.pointerId) return this.#fingerUp(e);
    if (this.#pan?.pointer === e.pointerId) {
      this.#pan = null;
      return;
    }
    const act = this.#act;
    if (!act || act.pointer !== e.pointerId) return;
    // A stroke that the system cut off is kept as far as it came. A lifted pen presses no more: its last sample draws nothing.
    if (!cancelled && (e.pointerType !== 'pen' || act.pen.tool !== 'ink')) this.#extend(act, [e]);
    this.#act = null;
    if (act.dragged && act.draggedTo) this.#host.move(act.dragged, act.draggedTo);
    this.#host.drag(null);
    const mark = this.#settle(act);
    if (mark) this.#host.make(mark);
    this.#live.clear();
  }

  /** The mark that a finished act leaves, or null. */
  #settle(act: Act): Mark | null {
    const { pen, page } = act;
    if (pen.tool === 'eraser' || pen.tool === 'hand') return null;
    const base = {
      v: 1 as const,
      id: this.#host.newMarkId(),
      document: page.document,
      page: page.page,
      colour: pen.colour,
      focus: pen.focus,
      madeAt: this.#host.now(),
    };
    const passage = act.range && {
      on: 'passage' as const,
      bands: bandsOver(page.text!, act.range),
      quote: quoteOf(page.text!, act.range),
    };
    switch (pen.tool) {
      case 'ink':
        return act.points.length ? { ...base, kind: 'ink', points: act.points, width: pen.width } : null;
      case 'highlight':
        if (passage) return { ...base, kind: 'highlight', place: passage };
        return act.points.length && act.travelled > TAP / 2
          ? { ...base, kind: 'highlight', place: { on: 'free', points: act.points, width: pen.width } }
          : null;
      case 'note': {
        if (passage) return { ...base, kind: 'note', place: passage, words: '' };
        const [x, y] = act.start;
        const there = this.#hit(act, act.start);
        if (there?.kind === 'note') {
          this.#host.select(there, true);
          return null;
        }
        return { ...base, kind: 'note', place: { on: 'spot', x: round(x), y: round(y) }, words: '' };
      }
    }
  }

  #hit(act: Act, at: Point): Mark | null {
    return markAt(this.#host.marksOn(act.page), at, REACH / act.page.view.zoom);
  }

  #at(act: Act, e: PointerEvent): Point {
    return act.toPage(e.clientX - act.rect.left, e.clientY - act.rect.top);
  }

  #startPan(e: PointerEvent): void {
    if (e.button > 1) return;
    this.#scroller.setPointerCapture(e.pointerId);
    this.#pan = { pointer: e.pointerId, last: [e.clientX, e.clientY] };
  }

  #panTo(e: PointerEvent): void {
    const pan = this.#pan!;
    this.#scroller.scrollBy(pan.last[0] - e.clientX, pan.last[1] - e.clientY);
    pan.last = [e.clientX, e.clientY];
  }

  #fingerDown(e: PointerEvent): void {
    if (this.#act || e.timeStamp - this.#lastPen < PALM_MS) return;
    if ((e.target as HTMLElement).closest('[data-own-pointer]')) return;
    this.#scroller.setPointerCapture(e.pointerId);
    this.#fingers.set(e.pointerId, [e.clientX, e.clientY]);
    if (this.#fingers.size === 1) this.#fingerTravel = 0;
    this.#speed = [0, 0];
  }

  #fingerMove(e: PointerEvent): void {
    const before = this.#fingers.get(e.pointerId);
    if (!before) return;
    const now: Point = [e.clientX, e.clientY];
    const others = [...this.#fingers].filter(([id]) => id !== e.pointerId).map(([, p]) => p);
    const dx = now[0] - before[0];
    const dy = now[1] - before[1];
    this.#fingerTravel += Math.hypot(dx, dy);
    this.#fingers.set(e.pointerId, now);
    if (this.#act || this.#fingerTravel < TAP) return;
    const share = 1 / this.#fingers.size;
    this.#scroller.scrollBy(-dx * share, -dy * share);
    this.#speed = [0.7 * this.#speed[0] + 0.3 * dx, 0.7 * this.#speed[1] + 0.3 * dy];
    const other = others[0];
    if (!other) return;
    const from = Math.hypot(before[0] - other[0], before[1] - other[1]);
    const to = Math.hypot(now[0] - other[0], now[1] - other[1]);
    if (from > 10) this.#host.zoomBy(to / from, (now[0] + other[0]) / 2, (now[1] + other[1]) / 2);
  }

  #fingerUp(e: PointerEvent): void {
    if (!this.#fingers.delete(e.pointerId) || this.#fingers.size) return;
    if (this.#fingerTravel < TAP) return this.#fingerTap(e);
    this.#coast();
  }

  /** A finger's tap does what needs no drawing: it selects, and with a note pen it pins a note. */
  #fingerTap(e: PointerEvent): void {
    const paper = document.elementFromPoint(e.clientX, e.clientY)?.closest<HTMLElement>('[data-page]');
    if (!paper || e.type === 'pointercancel') return;
    const pen = this.#host.pen();
    this.#begin(e, paper, pen.tool === 'note' ? pen : { tool: 'hand', name: 'finger' });
    const act = this.#act as Act | null;
    this.#act = null;
    this.#pan = null;
    const mark = act && this.#settle(act);
    if (mark) this.#host.make(mark);
    this.#live.clear();
  }

  /** The paper goes on a little after the finger has left. */
  #coast(): void {
    const step = () => {
      this.#speed = [this.#speed[0] * 0.94, this.#speed[1] * 0.94];
      if (Math.hypot(...this.#speed) < 0.3) return;
      this.#scroller.scrollBy(-this.#speed[0], -this.#speed[1]);
      this.#coasting = requestAnimationFrame(step);
    };
    this.#coasting = requestAnimationFrame(step);
  }
}

const round = (n: number) => Math.round(n * 100) / 100;

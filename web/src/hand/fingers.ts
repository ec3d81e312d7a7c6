import { type Point, TAP } from '@jotmark/core';

/** What fingers need of the pad. */
interface FingersHost {
  zoomBy(factor: number, clientX: number, clientY: number): void;
  /** A pen is down: fingers do nothing. */
  busy(): boolean;
  /** A finger came and went without moving. */
  tap(event: PointerEvent): void;
}

/** The share of its speed that the paper keeps from frame to frame when a finger has left it, and the speed at which it lies still. */
const COAST = 0.94;
const STILL = 0.3;

/** Fingers move the paper and pinch it; so do a mouse beside the paper and the middle button. */
export class Fingers {
  readonly #scroller: HTMLElement;
  readonly #host: FingersHost;
  readonly #down = new Map<number, Point>();
  #travel = 0;
  #speed: Point = [0, 0];
  #coasting = 0;
  #pan: { pointer: number; last: Point } | null = null;

  constructor(scroller: HTMLElement, host: FingersHost) {
    this.#scroller = scroller;
    this.#host = host;
  }

  /** How many lie on the glass. */
  get count(): number {
    return this.#down.size;
  }

  /** The paper lies still. */
  rest(): void {
    cancelAnimationFrame(this.#coasting);
  }

  startPan(e: PointerEvent): void {
    if (e.button > 1) return;
    this.#scroller.setPointerCapture(e.pointerId);
    this.#pan = { pointer: e.pointerId, last: [e.clientX, e.clientY] };
  }

  pans(pointer: number): boolean {
    return this.#pan?.pointer === pointer;
  }

  panTo(e: PointerEvent): void {
    const pan = this.#pan!;
    this.#scroller.scrollBy(pan.last[0] - e.clientX, pan.last[1] - e.clientY);
    pan.last = [e.clientX, e.clientY];
  }

  /** Whether this pointer was panning. */
  endPan(pointer: number): boolean {
    if (!this.pans(pointer)) return false;
    this.#pan = null;
    return true;
  }

  down(e: PointerEvent): void {
    if ((e.target as HTMLElement).closest('[data-own-pointer]')) return;
    this.#scroller.setPointerCapture(e.pointerId);
    this.#down.set(e.pointerId, [e.clientX, e.clientY]);
    if (this.#down.size === 1) this.#travel = 0;
    this.#speed = [0, 0];
  }

  move(e: PointerEvent): void {
    const before = this.#down.get(e.pointerId);
    if (!before) return;
    const now: Point = [e.clientX, e.clientY];
    const other = [...this.#down].find(([id]) => id !== e.pointerId)?.[1];
    const dx = now[0] - before[0];
    const dy = now[1] - before[1];
    this.#travel += Math.hypot(dx, dy);
    this.#down.set(e.pointerId, now);
    if (this.#host.busy() || this.#travel < TAP) return;
    const share = 1 / this.#down.size;
    this.#scroller.scrollBy(-dx * share, -dy * share);
    this.#speed = [0.7 * this.#speed[0] + 0.3 * dx, 0.7 * this.#speed[1] + 0.3 * dy];
    if (!other) return;
    const from = Math.hypot(before[0] - other[0], before[1] - other[1]);
    const to = Math.hypot(now[0] - other[0], now[1] - other[1]);
    if (from > 10) this.#host.zoomBy(to / from, (now[0] + other[0]) / 2, (now[1] + other[1]) / 2);
  }

  up(e: PointerEvent): void {
    if (!this.#down.delete(e.pointerId) || this.#down.size) return;
    if (this.#travel < TAP) this.#host.tap(e);
    else this.#coast();
  }

  /** The paper goes on a little after the finger has left. */
  #coast(): void {
    const step = () => {
      this.#speed = [this.#speed[0] * COAST, this.#speed[1] * COAST];
      if (Math.hypot(...this.#speed) < STILL) return;
      this.#scroller.scrollBy(-this.#speed[0], -this.#speed[1]);
      this.#coasting = requestAnimationFrame(step);
    };
    this.#coasting = requestAnimationFrame(step);
  }
}

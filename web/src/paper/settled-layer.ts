import { type Box, coverOf, grow, type Mark, type MarkId, type PageView } from '@jotmark/core';
import RBush from 'rbush';
import { type Layer, layerOf } from './paint.ts';
import { Surface } from './surface.ts';

interface Entry {
  readonly minX: number;
  readonly minY: number;
  readonly maxX: number;
  readonly maxY: number;
  readonly mark: Mark;
}

/** Where more places than this change at once, all is painted anew. */
const ONE_BY_ONE = 1000;
/** So few marks are painted at once. */
const AT_ONCE = 250;
/** Of more, so many in a frame, and no longer than this in milliseconds: the pen comes between. */
const IN_A_FRAME = 400;
const FRAME_SHARE_MS = 6;

interface Job {
  readonly on: Surface;
  readonly todo: Mark[];
  at: number;
  /** What was painted out of sight, when all of it is. */
  pictures?: ReadonlyMap<Layer, ImageBitmap>;
}

/** How a page is to be painted: its view, its sharpness, and with which fonts and pictures. */
interface Aim {
  readonly view: PageView;
  readonly ratio: number;
  readonly looks: number;
}

const sameAim = (a: Aim | null, b: Aim): boolean =>
  a !== null &&
  a.looks === b.looks &&
  a.ratio === b.ratio &&
  a.view.zoom === b.view.zoom &&
  a.view.turn === b.view.turn &&
  a.view.width === b.view.width &&
  a.view.height === b.view.height;

/**
 * The settled marks of one page, painted once into two canvases. A mark that comes is painted on top; where one goes or changes,
 * only that part is painted again, from an index of what lies there. For another view many marks are painted from frame to frame
 * out of sight, while the finished picture is shown stretched.
 */
export class SettledLayer {
  readonly #canvases: Readonly<Record<Layer, HTMLCanvasElement>>;
  readonly #shown = new Map<MarkId, Entry>();
  /** Where they lie; made when it is first asked for, which the first painting never does. */
  #index: RBush<Entry> | null = null;
  #aim: Aim | null = null;
  /** What is seen; its view may be an earlier one. Null before anything was painted. */
  #front: Surface | null = null;
  /** What is being painted, and what of it is still to do. */
  #job: Job | null = null;
  #frame = 0;

  constructor(ink: HTMLCanvasElement, wash: HTMLCanvasElement) {
    this.#canvases = { ink, wash };
  }

  /** Shows these marks at this view; all are painted again only when the view changed. */
  show(marks: readonly Mark[], view: PageView, ratio: number, looks = 0): void {
    const aim = { view, ratio, looks };
    const { gone, come } = this.#take(marks);
    if (!sameAim(this.#aim, aim)) {
      this.#aim = aim;
      return this.#begin();
    }
    if (gone.length > ONE_BY_ONE) return this.#begin();
    const job = this.#job;
    if (job?.on !== this.#front) this.#mend(gone, come);
    if (!job || (gone.length === 0 && come.length === 0)) return;
    // What goes may have been painted already; a picture that is finished takes no more.
    if (gone.length || job.pictures) this.#begin();
    else job.todo.push(...come);
  }

  /** Paints nothing more: the page is put away. */
  stop(): void {
    this.#cancel();
    this.#aim = null;
  }

  #cancel(): void {
    cancelAnimationFrame(this.#frame);
    this.#job = null;
  }

  /** Brings the index up to date; gives the boxes that must be painted again, or the marks that only come on top. */
  #take(marks: readonly Mark[]): { gone: Box[]; come: Mark[] } {
    const gone: Box[] = [];
    const come: Entry[] = [];
    const ids = new Set(marks.map((m) => m.id));
    for (const [id, entry] of this.#shown)
      if (!ids.has(id)) {
        gone.push([entry.minX, entry.minY, entry.maxX, entry.maxY]);
        this.#index?.remove(entry);
        this.#shown.delete(id);
      }
    for (const mark of marks) {
      const old = this.#shown.get(mark.id);
      if (old?.mark === mark) continue;
      if (!layerOf(mark)) continue;
      const [minX, minY, maxX, maxY] = grow(coverOf(mark), 1.5);
      const entry = { minX, minY, maxX, maxY, mark };
      if (old) {
        gone.push([old.minX, old.minY, old.maxX, old.maxY]);
        this.#index?.remove(old);
      }
      this.#shown.set(mark.id, entry);
      this.#index?.insert(entry);
      come.push(entry);
    }
    // What comes where something goes is painted with its place, once: a highlight painted twice would be darker.
    if (gone.length) gone.push(...come.map((e): Box => [e.minX, e.minY, e.maxX, e.maxY]));
    return { gone, come: gone.length ? [] : come.map((e) => e.mark) };
  }

  #mend(gone: readonly Box[], come: readonly Mark[]): void {
    for (const box of gone) {
      const [l, t, r, b] = box;
      this.#index ??= new RBush<Entry>().load([...this.#shown.values()]);
      const there = this.#index.search({ minX: l - 2, minY: t - 2, maxX: r + 2, maxY: b + 2 });
      this.#front?.repaint(box, inOrder(there));
    }
    for (const mark of come) this.#front?.paint(mark);
  }

  /** Paints all for the view that is aimed at. */
  #begin(): void {
    // A picture that is finished stays in sight until the new one is; one that was only begun does not.
    const finished = this.#front !== null && this.#job?.on !== this.#front;
    this.#cancel();
    const { view, ratio } = this.#aim!;
    const todo = inOrder([...this.#shown.values()]);
    const outOfSight = finished && todo.length > AT_ONCE;
    const on = outOfSight ? Surface.outOfSight(view, ratio) : new Surface(this.#canvases, view, ratio);
    if (!outOfSight) this.#front = on;
    if (todo.length <= AT_ONCE) {
      for (const mark of todo) on.paint(mark);
      return;
    }
    this.#job = { on, todo, at: 0 };
    // The page itself comes first.
    this.#frame = requestAnimationFrame(this.#step);
  }

  readonly #step = (): void => {
    const job = this.#job;
    if (!job) return;
    const end = performance.now() + FRAME_SHARE_MS;
    const last = Math.min(job.todo.length, job.at + IN_A_FRAME);
    while (job.at < last && performance.now() < end) job.on.paint(job.todo[job.at++]!);
    if (job.at < job.todo.length) {
      this.#frame = requestAnimationFrame(this.#step);
      return;
    }
    if (job.on === this.#front) return this.#finish(job);
    // Each in a frame of its own: the last strokes, their picture, and its coming into sight.
    if (job.pictures) {
      this.#front = new Surface(this.#canvases, job.on.view, job.on.ratio);
      this.#front.take(job.pictures);
      return this.#finish(job);
    }
    this.#frame = requestAnimationFrame(() => {
      job.pictures = job.on.pictures();
      this.#frame = requestAnimationFrame(this.#step);
    });
  };

  #finish(job: Job): void {
    this.#job = null;
    performance.mark('jotmark-marks-drawn', { detail: job.todo.length });
  }
}

const inOrder = (entries: readonly Entry[]): Mark[] =>
  entries.map((e) => e.mark).sort((a, b) => (a.id < b.id ? -1 : 1));

import {
  type Box,
  boxToScreen,
  coverOf,
  grow,
  type Mark,
  type MarkId,
  type PageView,
  viewMatrix,
  viewSize,
} from '@jotmark/core';
import RBush from 'rbush';
import { type Layer, layerOf, paintMark } from './paint.ts';

interface Entry {
  readonly minX: number;
  readonly minY: number;
  readonly maxX: number;
  readonly maxY: number;
  readonly mark: Mark;
}

/**
 * The settled marks of one page, painted once into two canvases. A mark that comes is painted on top; where one goes or changes,
 * only that part is painted again, from an index of what lies there.
 */
export class SettledLayer {
  readonly #contexts: Readonly<Record<Layer, CanvasRenderingContext2D>>;
  readonly #shown = new Map<MarkId, Entry>();
  readonly #index = new RBush<Entry>();
  #view: PageView | null = null;
  #ratio = 1;
  /** With which fonts and pictures it was painted. */
  #looks = 0;

  constructor(ink: HTMLCanvasElement, wash: HTMLCanvasElement) {
    this.#contexts = { ink: ink.getContext('2d')!, wash: wash.getContext('2d')! };
  }

  /** Shows these marks at this view; everything is painted again only when the view changed. */
  show(marks: readonly Mark[], view: PageView, ratio: number, looks = 0): void {
    const before = this.#view;
    const sameView =
      before !== null &&
      looks === this.#looks &&
      ratio === this.#ratio &&
      before.zoom === view.zoom &&
      before.turn === view.turn &&
      before.width === view.width &&
      before.height === view.height;
    const dirty = this.#take(marks);
    if (!sameView) {
      this.#view = view;
      this.#ratio = ratio;
      this.#looks = looks;
      this.#resize();
      this.#paintAll();
      return;
    }
    for (const box of dirty.gone) this.#repaint(box);
    for (const entry of dirty.come) this.#paint(entry);
  }

  /** Brings the index up to date; gives the boxes of what went or changed and the entries that are new. */
  #take(marks: readonly Mark[]): { gone: Box[]; come: Entry[] } {
    const gone: Box[] = [];
    const come: Entry[] = [];
    const ids = new Set(marks.map((m) => m.id));
    for (const [id, entry] of this.#shown)
      if (!ids.has(id)) {
        gone.push([entry.minX, entry.minY, entry.maxX, entry.maxY]);
        this.#index.remove(entry);
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
        this.#index.remove(old);
      }
      this.#shown.set(mark.id, entry);
      this.#index.insert(entry);
      come.push(entry);
    }
    // What is painted again anyway need not be painted twice.
    return {
      gone,
      come: gone.length
        ? come.filter(
            (e) => !gone.some((g) => g[0] <= e.minX && g[1] <= e.minY && g[2] >= e.maxX && g[3] >= e.maxY),
          )
        : come,
    };
  }

  #resize(): void {
    const [width, height] = viewSize(this.#view!);
    for (const { canvas } of Object.values(this.#contexts)) {
      canvas.width = Math.round(width * this.#ratio);
      canvas.height = Math.round(height * this.#ratio);
    }
  }

  #paintAll(): void {
    const all = this.#index.all().sort((a, b) => (a.mark.id < b.mark.id ? -1 : 1));
    for (const entry of all) this.#paint(entry);
  }

  #paint(entry: Entry): void {
    const layer = layerOf(entry.mark);
    if (!layer) return;
    const ctx = this.#contexts[layer];
    this.#toPage(ctx);
    paintMark(ctx, entry.mark);
  }

  #repaint(box: Box): void {
    const [x0, y0, x1, y1] = boxToScreen(this.#view!, box).map((v) => v * this.#ratio) as [
      number,
      number,
      number,
      number,
    ];
    // Whole pixels, one more on each side: what was smoothed over the edge must go too.
    const rect = [
      Math.floor(x0) - 1,
      Math.floor(y0) - 1,
      Math.ceil(x1) - Math.floor(x0) + 2,
      Math.ceil(y1) - Math.floor(y0) + 2,
    ] as const;
    const touched = this.#index
      .search({ minX: box[0] - 2, minY: box[1] - 2, maxX: box[2] + 2, maxY: box[3] + 2 })
      .sort((a, b) => (a.mark.id < b.mark.id ? -1 : 1));
    for (const [layer, ctx] of Object.entries(this.#contexts) as [Layer, CanvasRenderingContext2D][]) {
      ctx.save();
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.beginPath();
      ctx.rect(...rect);
      ctx.clip();
      ctx.clearRect(...rect);
      this.#toPage(ctx);
      for (const { mark } of touched) if (layerOf(mark) === layer) paintMark(ctx, mark);
      ctx.restore();
    }
  }

  #toPage(ctx: CanvasRenderingContext2D): void {
    const m = viewMatrix(this.#view!).map((v) => v * this.#ratio) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    ctx.setTransform(...m);
  }
}

import {
  type Box,
  coverOf,
  INK_HEX,
  type InkColour,
  inkOutline,
  type Mark,
  type PageView,
  type Point,
  type StrokePoints,
  strokeBox,
  viewMatrix,
} from '@jotmark/core';
import { bandsPath, HIGHLIGHT_OPACITY, linePath, paintFree, paintMark } from '../paper/paint.ts';

/** A page as it lies under the pen: its view, and its top left corner in the scroller's box, in CSS pixels. */
export interface PageSpot {
  readonly view: PageView;
  readonly left: number;
  readonly top: number;
}

/**
 * Layer 3: the live stroke alone, on one canvas over the visible desk. A pen move touches nothing else: it clears what
 * the stroke covered before and fills its outline anew, once a frame.
 */
export class LiveLayer {
  readonly #ctx: CanvasRenderingContext2D;
  readonly #canvas: HTMLCanvasElement;
  #ratio = 1;
  #covered: Box | null = null;
  #frame = 0;
  #next: (() => void) | null = null;

  constructor(canvas: HTMLCanvasElement) {
    this.#canvas = canvas;
    this.#ctx = canvas.getContext('2d')!;
  }

  resize(width: number, height: number, ratio: number): void {
    this.#ratio = ratio;
    this.#canvas.width = Math.round(width * ratio);
    this.#canvas.height = Math.round(height * ratio);
    this.#covered = null;
  }

  ink(spot: PageSpot, points: StrokePoints, width: number, colour: InkColour): void {
    this.#soon(() => {
      this.#clear();
      const ctx = this.#ctx;
      // The corners are brought to the screen here: the canvas's own transform would cost more than the drawing.
      const [a, b, c, d, e, f] = this.#matrix(spot);
      const outline = inkOutline(points, width);
      let left = Number.POSITIVE_INFINITY;
      let top = Number.POSITIVE_INFINITY;
      let right = Number.NEGATIVE_INFINITY;
      let bottom = Number.NEGATIVE_INFINITY;
      ctx.beginPath();
      for (let i = 0; i < outline.length; i++) {
        const p = outline[i]!;
        const x = a * p[0] + c * p[1] + e;
        const y = b * p[0] + d * p[1] + f;
        if (i) ctx.lineTo(x, y);
        else ctx.moveTo(x, y);
        if (x < left) left = x;
        if (x > right) right = x;
        if (y < top) top = y;
        if (y > bottom) bottom = y;
      }
      ctx.fillStyle = INK_HEX[colour];
      ctx.fill();
      // What the outline covered, and a pixel more for its smoothed edge.
      if (right >= left)
        this.#covered = [
          Math.floor(left) - 2,
          Math.floor(top) - 2,
          Math.ceil(right) + 2,
          Math.ceil(bottom) + 2,
        ];
    });
  }

  free(spot: PageSpot, points: StrokePoints, width: number, colour: InkColour): void {
    this.#soon(() => {
      this.#clear();
      this.#inPage(spot, (ctx) => {
        ctx.strokeStyle = INK_HEX[colour];
        paintFree(ctx, linePath(points), width);
      });
      this.#cover(spot, strokeBox(points), width);
    });
  }

  bands(spot: PageSpot, bands: readonly Box[], colour: InkColour): void {
    this.#soon(() => {
      this.#clear();
      this.#inPage(spot, (ctx) => {
        ctx.fillStyle = INK_HEX[colour];
        ctx.fill(bandsPath(bands));
      });
      this.#covered = [0, 0, this.#canvas.width, this.#canvas.height];
    });
  }

  /** A mark as it would settle now: what is drawn from corner to corner, or was made exact. */
  mark(spot: PageSpot, mark: Mark): void {
    this.#soon(() => {
      this.#clear();
      this.#inPage(spot, (ctx) => paintMark(ctx, mark));
      this.#cover(spot, coverOf(mark), 2);
    });
  }

  /** A loop drawn round marks to pick them. */
  loop(spot: PageSpot, points: readonly Point[]): void {
    this.#soon(() => {
      this.#clear();
      this.#inPage(spot, (ctx) => {
        ctx.globalAlpha = 1;
        ctx.strokeStyle = '#1d4f5e';
        ctx.lineWidth = 1.4 / spot.view.zoom;
        ctx.setLineDash([5 / spot.view.zoom, 4 / spot.view.zoom]);
        ctx.beginPath();
        points.forEach(([x, y], i) => (i ? ctx.lineTo(x, y) : ctx.moveTo(x, y)));
        ctx.stroke();
      });
      this.#covered = [0, 0, this.#canvas.width, this.#canvas.height];
    });
  }

  /** Takes the live stroke away: it has settled, or was given up. */
  clear(): void {
    this.#next = null;
    cancelAnimationFrame(this.#frame);
    this.#frame = 0;
    this.#clear();
  }

  #soon(draw: () => void): void {
    this.#next = draw;
    this.#frame ||= requestAnimationFrame(this.#draw);
  }

  /** One function for every frame, so that a move makes none of its own. */
  readonly #draw = (): void => {
    this.#frame = 0;
    this.#next?.();
    this.#next = null;
  };

  #clear(): void {
    if (!this.#covered) return;
    const [l, t, r, b] = this.#covered;
    this.#ctx.clearRect(l, t, r - l, b - t);
    this.#covered = null;
  }

  /** Page space to the canvas's own pixels. */
  #matrix({ view, left, top }: PageSpot): [number, number, number, number, number, number] {
    const [a, b, c, d, e, f] = viewMatrix(view);
    const r = this.#ratio;
    return [a * r, b * r, c * r, d * r, (e + left) * r, (f + top) * r];
  }

  /** Draws in page space at an opacity, and leaves the canvas in its own pixels. */
  #inPage(spot: PageSpot, draw: (ctx: CanvasRenderingContext2D) => void): void {
    const ctx = this.#ctx;
    ctx.save();
    ctx.setTransform(...this.#matrix(spot));
    ctx.globalAlpha = HIGHLIGHT_OPACITY;
    draw(ctx);
    ctx.restore();
  }

  #cover({ view, left, top }: PageSpot, box: Box, reach: number): void {
    const [a, b, c, d, e, f] = viewMatrix(view);
    const xs = [a * box[0] + c * box[1] + e, a * box[2] + c * box[3] + e];
    const ys = [b * box[0] + d * box[1] + f, b * box[2] + d * box[3] + f];
    const out = reach * view.zoom + 2;
    const r = this.#ratio;
    this.#covered = [
      Math.floor((Math.min(...xs) + left - out) * r),
      Math.floor((Math.min(...ys) + top - out) * r),
      Math.ceil((Math.max(...xs) + left + out) * r),
      Math.ceil((Math.max(...ys) + top + out) * r),
    ];
  }
}

import { type Box, boxToScreen, type Mark, type PageView, viewMatrix, viewSize } from '@jotmark/core';
import { type Layer, layerOf, paintMark } from './paint.ts';

const LAYERS: readonly Layer[] = ['ink', 'wash'];

type Canvas = HTMLCanvasElement | OffscreenCanvas;
type Context = CanvasRenderingContext2D;

/**
 * The two canvases of a page at one view: what is painted on them is in page space. A canvas that nothing is painted on has no pixels and
 * is not shown: most pages need only one, many none.
 */
export class Surface {
  readonly #canvases: Readonly<Record<Layer, Canvas>>;
  readonly #contexts = new Map<Layer, Context>();
  readonly view: PageView;
  readonly ratio: number;

  /** Empties the canvases; they get the view's size, in its own pixels times `ratio`, when something is painted. */
  constructor(canvases: Readonly<Record<Layer, Canvas>>, view: PageView, ratio: number) {
    this.#canvases = canvases;
    this.view = view;
    this.ratio = ratio;
    for (const canvas of Object.values(canvases)) {
      canvas.width = 1;
      canvas.height = 1;
      if ('hidden' in canvas) canvas.hidden = true;
    }
  }

  /** As large as this one and out of sight. */
  static outOfSight(view: PageView, ratio: number): Surface {
    return new Surface({ ink: new OffscreenCanvas(1, 1), wash: new OffscreenCanvas(1, 1) }, view, ratio);
  }

  #context(layer: Layer): Context {
    const known = this.#contexts.get(layer);
    if (known) return known;
    const canvas = this.#canvases[layer];
    const [width, height] = viewSize(this.view);
    canvas.width = Math.max(1, Math.round(width * this.ratio));
    canvas.height = Math.max(1, Math.round(height * this.ratio));
    if ('hidden' in canvas) canvas.hidden = false;
    const context = canvas.getContext('2d') as Context;
    context.setTransform(...this.#matrix());
    this.#contexts.set(layer, context);
    return context;
  }

  paint(mark: Mark): void {
    const layer = layerOf(mark);
    if (layer) paintMark(this.#context(layer), mark);
  }

  /** Paints a part of the page anew: `marks` are all that lie there, in their order. */
  repaint(box: Box, marks: readonly Mark[]): void {
    const [x0, y0, x1, y1] = boxToScreen(this.view, box).map((v) => v * this.ratio) as [
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
    for (const layer of LAYERS) {
      const here = marks.filter((mark) => layerOf(mark) === layer);
      const ctx = here.length ? this.#context(layer) : this.#contexts.get(layer);
      if (!ctx) continue;
      ctx.save();
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.beginPath();
      ctx.rect(...rect);
      ctx.clip();
      ctx.clearRect(...rect);
      ctx.setTransform(...this.#matrix());
      for (const mark of here) paintMark(ctx, mark);
      ctx.restore();
    }
  }

  /** Its finished pictures; nothing can be painted on it after. */
  pictures(): ReadonlyMap<Layer, ImageBitmap> {
    return new Map(
      [...this.#contexts.keys()].map((layer) => [
        layer,
        (this.#canvases[layer] as OffscreenCanvas).transferToImageBitmap(),
      ]),
    );
  }

  /** Shows pictures that were painted at the same view. */
  take(pictures: ReadonlyMap<Layer, ImageBitmap>): void {
    for (const [layer, picture] of pictures) {
      const ctx = this.#context(layer);
      ctx.save();
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.drawImage(picture, 0, 0);
      ctx.restore();
      picture.close();
    }
  }

  #matrix(): [number, number, number, number, number, number] {
    return viewMatrix(this.view).map((v) => v * this.ratio) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
  }
}

import { engine, MOST_PIXELS, type PictureOrder } from './engine.ts';

/** Pictures kept ready: about three sharp pages on a large screen, twenty copies on a small one. */
const KEPT_PIXELS = 32_000_000;
/** Who was given a picture draws it at once; then its memory is free. */
const DRAWN_MS = 1000;

const keyOf = (o: PictureOrder) => `${o.key}/${o.page}/${o.width}x${o.height}/${o.turn}`;

/** Pictures of pages, drawn once and kept while there is room; the least recently shown goes first. */
class Pictures {
  readonly #kept = new Map<string, ImageBitmap>();
  readonly #coming = new Map<string, Promise<ImageBitmap>>();
  #pixels = 0;

  /** The picture if it lies ready. */
  ready(order: PictureOrder): ImageBitmap | null {
    const found = this.#kept.get(keyOf(order));
    if (!found) return null;
    this.#kept.delete(keyOf(order));
    this.#kept.set(keyOf(order), found);
    return found;
  }

  get(order: PictureOrder, urgency: number): Promise<ImageBitmap> {
    const ready = this.ready(order);
    if (ready) return Promise.resolve(ready);
    const key = keyOf(order);
    const coming = this.#coming.get(key);
    if (coming && urgency < 5) return coming;
    const drawn = engine.draw(order, urgency).then((bitmap) => {
      this.#keep(key, bitmap);
      return bitmap;
    });
    this.#coming.set(key, drawn);
    drawn.finally(() => this.#coming.delete(key)).catch(() => {});
    return drawn;
  }

  #keep(key: string, bitmap: ImageBitmap): void {
    const before = this.#kept.get(key);
    if (before) {
      this.#pixels -= before.width * before.height;
      setTimeout(() => before.close(), DRAWN_MS);
    }
    this.#kept.set(key, bitmap);
    this.#pixels += bitmap.width * bitmap.height;
    for (const [old, picture] of this.#kept) {
      if (this.#pixels <= KEPT_PIXELS || old === key) break;
      this.#kept.delete(old);
      this.#pixels -= picture.width * picture.height;
      setTimeout(() => picture.close(), DRAWN_MS);
    }
  }
}

export const pictures = new Pictures();

/** Device pixels for a page shown at this size, kept below the engine's limit. */
export function pixelSize(width: number, height: number, ratio: number): { width: number; height: number } {
  const shrink = Math.min(1, Math.sqrt(MOST_PIXELS / Math.max(1, width * height * ratio * ratio)));
  return {
    width: Math.max(1, Math.round(width * ratio * shrink)),
    height: Math.max(1, Math.round(height * ratio * shrink)),
  };
}

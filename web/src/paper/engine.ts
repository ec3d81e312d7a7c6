import type { QuarterTurn } from '@jotmark/core';
import type { FromWorker, ToWorker } from './engine-messages.ts';

type Ask = ToWorker extends infer M ? (M extends { id: number } ? Omit<M, 'id'> : never) : never;

export interface PictureOrder {
  readonly key: string;
  readonly page: number;
  /** In device pixels, as the turned page is shown. */
  readonly width: number;
  readonly height: number;
  /** On top of the page's own rotation. */
  readonly turn: QuarterTurn;
}

interface Queued {
  readonly ask: Ask;
  readonly urgency: number;
  readonly transfer: Transferable[];
  resolve(bitmap: ImageBitmap | null): void;
  reject(error: Error): void;
}

/** No picture is larger than this; a larger one is drawn smaller and stretched. */
export const MOST_PIXELS = 40_000_000;
/** A page that takes longer has gone wrong; the worker is replaced. */
const PATIENCE_MS = 20_000;

/**
 * The PDF engine as the page sees it. Orders wait here, the most urgent first, and only one is with the worker, so
 * that the page in view never stands behind its neighbours.
 */
export class PageEngine {
  #worker: Worker | null = null;
  #next = 1;
  #queue: Queued[] = [];
  #busy = false;
  readonly #bytes = new Map<string, ArrayBuffer>();

  /** Starts the worker and compiles the engine before it is needed. */
  warm(): void {
    this.#order({ kind: 'warm' }, 0).catch(() => {});
  }

  /** Makes a document's bytes known. They are kept, to open it again after the worker had to be replaced. */
  async open(key: string, bytes: ArrayBuffer): Promise<void> {
    this.#bytes.set(key, bytes);
    await this.#order({ kind: 'open', key, bytes }, 9);
  }

  close(key: string): void {
    this.#bytes.delete(key);
    this.#order({ kind: 'close', key }, 0).catch(() => {});
  }

  /** Draws a page; the more urgent first. Rejects when the page cannot be drawn. */
  async draw(order: PictureOrder, urgency: number): Promise<ImageBitmap> {
    const bitmap = await this.#order({ kind: 'draw', ...order }, urgency);
    if (!bitmap) throw new Error('no picture');
    return bitmap;
  }

  #order(ask: Ask, urgency: number, transfer: Transferable[] = []): Promise<ImageBitmap | null> {
    return new Promise((resolve, reject) => {
      this.#queue.push({ ask, urgency, transfer, resolve, reject });
      this.#pump();
    });
  }

  #pump(): void {
    if (this.#busy || this.#queue.length === 0) return;
    let best = 0;
    this.#queue.forEach((q, i) => {
      if (q.urgency > this.#queue[best]!.urgency) best = i;
    });
    const [queued] = this.#queue.splice(best, 1);
    this.#busy = true;
    this.#send(queued!).finally(() => {
      this.#busy = false;
      this.#pump();
    });
  }

  #send(queued: Queued): Promise<void> {
    const worker = this.#start();
    const id = this.#next++;
    return new Promise((done) => {
      const end = () => {
        clearTimeout(clock);
        worker.removeEventListener('message', heard);
        worker.removeEventListener('error', broke);
        done();
      };
      const heard = ({ data }: MessageEvent<FromWorker>) => {
        if (data.id !== id) return;
        end();
        if (data.ok) queued.resolve(data.bitmap);
        else queued.reject(new Error(data.error));
      };
      const broke = () => {
        this.#replace(worker);
        end();
        queued.reject(new Error('the PDF engine stopped'));
      };
      const clock = setTimeout(broke, PATIENCE_MS);
      worker.addEventListener('message', heard);
      worker.addEventListener('error', broke);
      worker.postMessage({ ...queued.ask, id }, queued.transfer);
    });
  }

  #start(): Worker {
    this.#worker ??= new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
    return this.#worker;
  }

  #replace(broken: Worker): void {
    broken.terminate();
    if (this.#worker !== broken) return;
    this.#worker = null;
    for (const [key, bytes] of this.#bytes) this.#order({ kind: 'open', key, bytes }, 10).catch(() => {});
  }
}

export const engine = new PageEngine();

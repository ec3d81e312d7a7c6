import type { QuestionId } from '@jotmark/core';
import * as Y from 'yjs';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { fromBase64, toBase64 } from './base64.ts';

/** Where the editor keeps its text in the shared document; the server reads it there. */
export const FIELD = 'text';
/**
 * What is typed becomes a change when it rests for `REST_MS`, and after `BURST_MS` however it goes on: seldom enough that the trail stays small, often enough
 * that others see it within a second (bench: long).
 */
const REST_MS = 250;
const BURST_MS = 650;
/** Who merged it: what came from elsewhere is not sent again. */
const ELSEWHERE = Symbol('elsewhere');

/**
 * The text of one answer that grows, in this tab: what is written here becomes changes of the copy, what others write is merged in. With the very key it is
 * also left where a tab that dies leaves it; merged twice it is the same text.
 */
export class TextDoc {
  readonly doc = new Y.Doc();
  readonly #keeper: SheetKeeper;
  readonly #question: QuestionId;
  readonly #place: string;
  readonly #merged = new Set<string>();
  #seen: readonly string[] | undefined;
  #burst: Uint8Array[] = [];
  #began = 0;
  #pasted = 0;
  #clock: ReturnType<typeof setTimeout> | undefined;
  #pendingChanged: (pending: boolean) => void = () => {};
  readonly #off: (() => void)[] = [];

  constructor(keeper: SheetKeeper, question: QuestionId, place: string) {
    this.#keeper = keeper;
    this.#question = question;
    this.#place = place;
    this.#take();
    const heard = (update: Uint8Array, origin: unknown) => {
      if (origin !== ELSEWHERE) this.#collect(update);
    };
    this.doc.on('update', heard);
    this.#takeOver();
    const hidden = () => document.visibilityState === 'hidden' && this.flush();
    const closing = () => this.flush();
    document.addEventListener('visibilitychange', hidden);
    // Before the keeper says good-bye.
    window.addEventListener('pagehide', closing, true);
    this.#off.push(
      keeper.subscribe(() => this.#take()),
      () => this.doc.off('update', heard),
      () => document.removeEventListener('visibilitychange', hidden),
      () => window.removeEventListener('pagehide', closing, true),
    );
  }

  /** Hears whether something was typed that is no change yet. */
  onPending(heard: (pending: boolean) => void): void {
    this.#pendingChanged = heard;
  }

  /** So many letters came by pasting; they belong to what is being typed. */
  pasted(letters: number): void {
    this.#pasted += letters;
  }

  /** What was typed becomes a change now. */
  flush(): void {
    clearTimeout(this.#clock);
    this.#clock = undefined;
    if (this.#burst.length === 0) return;
    const update = toBase64(Y.mergeUpdates(this.#burst));
    const pasted = this.#pasted;
    this.#burst = [];
    this.#pasted = 0;
    this.#merged.add(update);
    this.#keeper.writeText(this.#question, update, pasted);
    this.#pendingChanged(false);
    this.#keeper.written().then(() => {
      if (this.#burst.length === 0) this.#forget();
    });
  }

  close(): void {
    this.flush();
    for (const off of this.#off) off();
    this.doc.destroy();
  }

  #take(): void {
    const updates = this.#keeper.view.sheet.texts.get(this.#question);
    if (updates === this.#seen || !updates) return;
    this.#seen = updates;
    const fresh = updates.filter((u) => !this.#merged.has(u));
    if (fresh.length === 0) return;
    for (const update of fresh) this.#merged.add(update);
    Y.applyUpdate(this.doc, Y.mergeUpdates(fresh.map(fromBase64)), ELSEWHERE);
  }

  #collect(update: Uint8Array): void {
    const now = performance.now();
    if (this.#burst.length === 0) {
      this.#began = now;
      this.#pendingChanged(true);
    }
    this.#burst.push(update);
    this.#remember();
    clearTimeout(this.#clock);
    const left = Math.max(0, this.#began + BURST_MS - now);
    this.#clock = setTimeout(() => this.flush(), Math.min(REST_MS, left));
  }

  #remember(): void {
    try {
      localStorage.setItem(this.#place, toBase64(Y.mergeUpdates(this.#burst)));
    } catch {
      // Full or forbidden: the change a moment later is still on its way.
    }
  }

  #forget(): void {
    try {
      localStorage.removeItem(this.#place);
    } catch {
      // It is merged once more then, and changes nothing.
    }
  }

  /** What a tab that died had not made a change of. */
  #takeOver(): void {
    try {
      const left = localStorage.getItem(this.#place);
      if (!left) return;
      const before = Y.encodeStateVector(this.doc);
      Y.applyUpdate(this.doc, fromBase64(left), ELSEWHERE);
      const missing = Y.encodeStateAsUpdate(this.doc, before);
      if (missing.length > 2) this.#collect(missing);
      else this.#forget();
    } catch {
      this.#forget();
    }
  }
}

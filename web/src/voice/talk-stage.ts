import { type DocumentId, type Mark, marksAt, type Recording, scoreOf, type TalkScore } from '@jotmark/core';
import { createContext, use, useSyncExternalStore } from 'react';
import { sameList } from '../frame/useSameList.ts';

/**
 * The talk that is played on a view, outside of React: each page asks it for its marks, and only a page on which something is written just now is painted anew. Nothing
 * else of the view hears of it.
 */
export class TalkStage {
  #recording: Recording | null = null;
  #ms = 0;
  readonly #watchers = new Set<() => void>();
  /** Of each page: its marks as they are given, their score, and how they were shown last. */
  readonly #pages = new Map<
    string,
    { readonly marks: readonly Mark[]; readonly score: TalkScore; ms: number; shown: readonly Mark[] }
  >();

  readonly subscribe = (watcher: () => void): (() => void) => {
    this.#watchers.add(watcher);
    return () => this.#watchers.delete(watcher);
  };

  get playing(): boolean {
    return this.#recording !== null;
  }

  /** Where the talk is now; null: it is not played, and all marks stand. */
  show(recording: Recording, ms: number | null): void {
    if (recording !== this.#recording || ms === null) this.#pages.clear();
    this.#recording = ms === null ? null : recording;
    this.#ms = ms ?? 0;
    for (const watcher of this.#watchers) watcher();
  }

  /** The marks of a page as they stand now; the very same list for as long as nothing of them changes. */
  marksOn(document: DocumentId, page: number, marks: readonly Mark[]): readonly Mark[] {
    const talk = this.#recording?.talk;
    if (!talk) return marks;
    const key = `${document} ${page}`;
    let known = this.#pages.get(key);
    if (known?.marks !== marks) {
      known = { marks, score: scoreOf(talk, marks), ms: -1, shown: marks };
      this.#pages.set(key, known);
    }
    // Asked again for the same moment it is the same list, with the same part of a stroke in it.
    if (known.ms === this.#ms) return known.shown;
    known.ms = this.#ms;
    const next = known.score.when.size ? marksAt(known.score, this.#ms) : marks;
    if (!sameList(known.shown, next)) known.shown = next;
    return known.shown;
  }
}

/** The stage of this view; null where no talk is ever played. */
export const StageContext = createContext<TalkStage | null>(null);

const NEVER = () => () => {};

/** The marks of a page as they stand while a talk is played; otherwise all of them. */
export function useTalkMarks(
  { document, page }: { readonly document: DocumentId; readonly page: number },
  marks: readonly Mark[],
): readonly Mark[] {
  const stage = use(StageContext);
  return useSyncExternalStore(
    stage?.subscribe ?? NEVER,
    () => stage?.marksOn(document, page, marks) ?? marks,
  );
}

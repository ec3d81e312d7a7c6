import type { DocumentId, MarkId, PersonId } from '@jotmark/core';
import type { Recorder } from './recorder.ts';
import { IDLE, type RecorderNews, type RecorderState, type Wish } from './recorder-state.ts';

/**
 * The recorder of this tab, as views see it. It is loaded when somebody talks for the first time: until then there is nothing to stop, to tie to, or to tell of.
 */
class RecorderHere {
  #loading: Promise<Recorder> | null = null;
  #loaded: Recorder | null = null;
  /** The key was let go before the recorder was there. */
  #over = false;
  readonly #watchers = new Set<() => void>();
  readonly #levels = new Set<(level: number) => void>();
  readonly #hearers = new Set<(news: RecorderNews) => void>();

  get state(): RecorderState {
    return this.#loaded?.state ?? IDLE;
  }

  #load(): Promise<Recorder> {
    this.#loading ??= import('./recorder.ts').then((m) => {
      const recorder = new m.Recorder();
      recorder.subscribe(() => each(this.#watchers));
      recorder.onLevel((level) => each(this.#levels, level));
      recorder.hear((news) => each(this.#hearers, news));
      this.#loaded = recorder;
      return recorder;
    });
    return this.#loading;
  }

  readonly subscribe = (watcher: () => void): (() => void) => joined(this.#watchers, watcher);
  readonly onLevel = (watch: (level: number) => void): (() => void) => joined(this.#levels, watch);
  readonly hear = (hearer: (news: RecorderNews) => void): (() => void) => joined(this.#hearers, hearer);

  async begin(wish: Wish): Promise<void> {
    this.#over = false;
    const recorder = await this.#load();
    if (!this.#over) await recorder.begin(wish);
  }
  async recover(personId: PersonId): Promise<void> {
    await (await this.#load()).recover(personId);
  }

  end(): void {
    this.#over = true;
    this.#loaded?.end();
  }
  drop(): void {
    this.#loaded?.drop();
  }
  writeDown(on: boolean): void {
    this.#loaded?.writeDown(on);
  }
  tie(mark: MarkId, from: number): void {
    this.#loaded?.tie(mark, from);
  }
  retie(gone: readonly MarkId[], come: readonly MarkId[]): void {
    this.#loaded?.retie(gone, come);
  }
  saw(document: DocumentId, page: number): void {
    this.#loaded?.saw(document, page);
  }
}

function joined<T>(set: Set<T>, one: T): () => void {
  set.add(one);
  return () => {
    set.delete(one);
  };
}

function each<A extends unknown[]>(set: ReadonlySet<(...all: A) => void>, ...all: A): void {
  for (const one of set) one(...all);
}

export const recorder = new RecorderHere();

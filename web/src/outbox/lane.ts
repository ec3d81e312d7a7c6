import { CallFailed } from '../api/call.ts';
import type { Device } from './device.ts';
import { forgetLastWords, lastWords, leaveLastWords } from './last-words.ts';
import { type LaneId, type Letter, nextBatch } from './letter.ts';

/** Saved: the server has it. Saving: on its way. Kept: only on this device. Loose: not even there, the browser keeps nothing. */
export type SaveState = 'saved' | 'saving' | 'kept' | 'loose';

export interface LaneOptions {
  readonly personId: string;
  readonly lane: LaneId;
  readonly device: Device | null;
  /**
   * Sends the first of what waits and deals with the answer: what is settled is dropped from the lane. Throws when it could not be sent; it is tried again
   * later. `waited`: it could not go at once when it was put in.
   */
  send(batch: readonly Letter[], waited: boolean): Promise<void>;
  /** Called later; tests call it themselves. */
  later(work: () => void, ms: number): void;
  /** Something about what waits is another. */
  changed(): void;
  /** Letters of earlier sittings, or of a tab that closed late, have joined. */
  joined?(): void;
}

const RETRY_MS = [500, 1000, 2000, 4000, 8000, 15_000];

/** Answers that will not be another the next time. */
const FINAL: ReadonlySet<string> = new Set([
  'bad-input',
  'not-found',
  'taken-back',
  'still-open',
  'already-handed-in',
  'nothing-to-hand-in',
  'not-open-yet',
]);

/** Whether the server has said no to what was sent, so that sending it again is of no use. */
export const isRefusal = (error: unknown): error is CallFailed =>
  error instanceof CallFailed && FINAL.has(error.code);

/**
 * One queue of the outbox: what is put in is written to the device, then sent in order, and leaves the device when the server has
 * committed it. A closed tab, a dead network, a killed server lose nothing. Knows nothing of what its letters say.
 */
export class Lane {
  readonly #o: LaneOptions;
  #waiting: Letter[] = [];
  /** On their way to the device. */
  #unwritten: Letter[] = [];
  /** Put in by this tab and not tried yet. */
  readonly #fresh = new Set<string>();
  #writing: Promise<void> = Promise.resolve();
  /** Whether this tab is talking to the server; `#turn` ends when it has finished. */
  #talking = false;
  #turn: Promise<void> = Promise.resolve();
  #retryAsked = false;
  #failures = 0;
  #deviceFailed: boolean;
  #joined = false;
  #closed = false;

  constructor(options: LaneOptions) {
    this.#o = options;
    this.#deviceFailed = options.device === null;
  }

  get waiting(): readonly Letter[] {
    return this.#waiting;
  }

  get joined(): boolean {
    return this.#joined;
  }

  get save(): SaveState {
    if (this.#waiting.length === 0) return 'saved';
    if (this.#failures === 0) return 'saving';
    return this.#deviceFailed ? 'loose' : 'kept';
  }

  /** Reads what earlier sittings left here. Nothing is written or sent before, so that all stays in order. */
  join(after: Promise<unknown> = Promise.resolve()): Promise<void> {
    this.#writing = after.then(() => this.#read());
    return this.#writing;
  }

  async #read(): Promise<void> {
    const { device, personId, lane } = this.#o;
    if (device) {
      try {
        const kept = await device.kept(personId, lane);
        this.#waiting = [...kept, ...(await this.#takeLastWords(kept)), ...this.#waiting];
      } catch {
        this.#deviceFailed = true;
      }
    }
    this.#joined = true;
    this.#o.joined?.();
    this.#kick();
  }

  /** What a closing tab could only leave in haste; some of it may have been kept all the same. */
  async #takeLastWords(kept: readonly Letter[]): Promise<Letter[]> {
    const { device, personId, lane } = this.#o;
    const there = new Set<string>(kept.map((c) => c.id));
    const words = lastWords(personId, lane);
    // Nothing is taken away that was not read: another tab may be leaving its words this very moment.
    if (words.length === 0) return [];
    const left = words.filter((c) => !there.has(c.id));
    await device?.keep(left.map((letter) => ({ personId, lane, letter })));
    forgetLastWords(personId, lane);
    return left;
  }

  /** Puts letters behind what waits already. */
  put(letters: readonly Letter[]): void {
    this.#waiting = [...this.#waiting, ...letters];
    for (const { id } of letters) this.#fresh.add(id);
    const { device, personId, lane } = this.#o;
    if (!device) return this.#kick();
    this.#unwritten.push(...letters);
    this.#writing = this.#writing
      .then(() => device.keep(letters.map((letter) => ({ personId, lane, letter }))))
      .then(
        () => {
          this.#deviceFailed = false;
        },
        () => {
          this.#deviceFailed = true;
        },
      )
      .finally(() => {
        const written = new Set(letters);
        this.#unwritten = this.#unwritten.filter((c) => !written.has(c));
        this.#o.changed();
        this.#kick();
      });
  }

  /** Settled letters no longer wait; forgotten by the device as well. */
  async drop(ids: ReadonlySet<string>): Promise<void> {
    if (ids.size === 0) return;
    this.#waiting = this.#waiting.filter((c) => !ids.has(c.id));
    for (const id of ids) this.#fresh.delete(id);
    this.#o.changed();
    await this.#o.device?.forget(this.#o.personId, this.#o.lane, ids).catch(() => {});
  }

  /** Talks to the server while nothing of this lane is being sent; then goes on sending. */
  async alone(work: () => Promise<void>): Promise<void> {
    while (this.#talking) await this.#turn;
    this.#talking = true;
    let end = () => {};
    this.#turn = new Promise((resolve) => (end = resolve));
    try {
      await work();
      this.#failures = 0;
    } catch {
      // The next letter or the next call asks again.
    } finally {
      this.#talking = false;
      end();
      this.#o.changed();
    }
    this.#kick();
  }

  /** Resolves when nothing is being sent. */
  async quiet(): Promise<void> {
    while (this.#talking) await this.#turn;
  }

  /** Resolves when everything put in so far is on the device, or known not to be. */
  written(): Promise<void> {
    return this.#writing;
  }

  /** The tab is being closed: what is not on the device yet is left where it can be in no time. */
  leave(): void {
    leaveLastWords(this.#o.personId, this.#o.lane, this.#o.device ? this.#unwritten : this.#waiting);
  }

  /** A tab that took its time to close has left something since this one began. */
  async takeOver(): Promise<void> {
    const { device, personId, lane } = this.#o;
    await this.#writing;
    if (!this.#joined) return;
    const kept = (await device?.kept(personId, lane).catch(() => [])) ?? [];
    const left = await this.#takeLastWords(kept).catch(() => []);
    const there = new Set<string>(this.#waiting.map((c) => c.id));
    const late = [...kept, ...left].filter((c) => !there.has(c.id));
    if (late.length === 0) return;
    this.#waiting = [...this.#waiting, ...late];
    this.#o.joined?.();
    this.#o.changed();
    this.#kick();
  }

  /** Try now instead of waiting: the network is back. */
  retryNow(): void {
    this.#failures = 0;
    if (this.#talking) this.#retryAsked = true;
    else this.#kick();
  }

  /** Sends nothing more: another goes on with what waits. */
  close(): Promise<void> {
    this.#closed = true;
    return Promise.all([this.#writing, this.quiet()]).then(() => {});
  }

  /** Sends what waits, one batch after the other, as long as the server answers. */
  #kick(): void {
    if (
      this.#closed ||
      !this.#joined ||
      this.#talking ||
      this.#waiting.length === 0 ||
      (this.#unwritten.length > 0 && !this.#deviceFailed)
    )
      return;
    this.#talking = true;
    this.#retryAsked = false;
    this.#o.changed();
    this.#turn = this.#sendAll()
      .then(
        () => {
          this.#failures = 0;
        },
        () => {
          this.#fresh.clear();
          if (this.#retryAsked) return;
          const wait = RETRY_MS[Math.min(this.#failures, RETRY_MS.length - 1)]!;
          this.#failures++;
          this.#o.later(() => this.#kick(), wait);
        },
      )
      .finally(() => {
        this.#talking = false;
        this.#o.changed();
        if (this.#failures === 0) this.#kick();
      });
  }

  async #sendAll(): Promise<void> {
    while (this.#waiting.length && !this.#closed) {
      const batch = nextBatch(this.#waiting);
      await this.#o.send(batch, !batch.every((l) => this.#fresh.has(l.id)));
      // What was sent and is still here would be sent for ever.
      const sent = new Set<string>(batch.map((l) => l.id));
      if (this.#waiting.some((l) => sent.has(l.id)))
        throw new Error('a letter was neither settled nor refused');
    }
  }
}

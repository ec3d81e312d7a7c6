import {
  applyAll,
  applyChange,
  BATCH_LIMIT,
  type CopyBatchAnswer as BatchAnswer,
  type Change,
  type ChangeId,
  type Gesture,
  invertChange,
  markOf,
  type QuestionId,
  type Sheet,
  type SlipField,
  type SlipValue,
  same,
  stillStands,
  subjectOf,
  versionOf,
} from '@jotmark/core';
import { CallFailed } from '../api/call.ts';
import type { Clash, Device, SheetId } from './device.ts';
import { forgetLastWords, lastWords, leaveLastWords } from './last-words.ts';

/** Saved: the server has it. Saving: on its way. Kept: only on this device. Loose: not even there, the browser keeps nothing. */
export type SaveState = 'saved' | 'saving' | 'kept' | 'loose';

export interface Post {
  send(sheetId: SheetId, changes: readonly Change[]): Promise<BatchAnswer>;
  since(sheetId: SheetId, after: number): Promise<{ seq: number; changes: Change[] }>;
}

/** What the server had when the sheet was opened. */
export interface KeptState {
  readonly seq: number;
  readonly sheet: Sheet;
}

export interface KeeperView {
  readonly sheet: Sheet;
  readonly save: SaveState;
  readonly waiting: number;
  readonly clashes: readonly Clash[];
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}

interface Options {
  readonly sheetId: SheetId;
  readonly personId: string;
  readonly device: Device | null;
  readonly post: Post;
  newId(): ChangeId;
  /** Called later; tests call it themselves. */
  later(work: () => void, ms: number): void;
  /** Hears what the server has committed, also after the desk is gone. */
  committed(changes: readonly Change[]): void;
}

/** Undo further back than this is not kept. */
const MOST_GESTURES = 300;
/** Answers that will not be another the next time. */
const REFUSED_WHOLE: ReadonlySet<string> = new Set(['bad-input', 'not-found', 'taken-back']);
const RETRY_MS = [500, 1000, 2000, 4000, 8000, 15_000];

/**
 * The one owner of a marking, or of a student's copy, in this tab. A change is shown at once, written to the device, then sent in order; it leaves the
 * device when the server has committed it. What is shown is always the server's sheet with all that still waits applied to it.
 */
export class SheetKeeper {
  readonly #o: Options;
  #confirmed: Sheet;
  #seq: number;
  #pending: Change[] = [];
  #sheet: Sheet;
  #undo: Gesture[] = [];
  #redo: Gesture[] = [];
  #mergeKey: string | null = null;
  #clashes: Clash[] = [];
  #writing: Promise<void> = Promise.resolve();
  /** On their way to the device. */
  #unwritten: Change[] = [];
  /** Whether this tab is talking to the server; `#turn` ends when it has finished. */
  #sending = false;
  #turn: Promise<void> = Promise.resolve();
  #retryAsked = false;
  #failures = 0;
  #deviceFailed: boolean;
  #view: KeeperView;
  #joined = false;
  readonly #listeners = new Set<() => void>();

  private constructor(options: Options, state: KeptState) {
    this.#o = options;
    this.#confirmed = state.sheet;
    this.#seq = state.seq;
    this.#sheet = this.#confirmed;
    this.#deviceFailed = options.device === null;
    this.#view = this.#makeView();
  }

  /** Starts from the server's state at once; what this device still keeps for it joins a moment later (`joined`). */
  static begin(options: Options, state: KeptState): SheetKeeper {
    const keeper = new SheetKeeper(options, state);
    keeper.#writing = keeper.#join();
    return keeper;
  }

  /** The same, with what the device keeps already in it. */
  static async open(options: Options, state: KeptState): Promise<SheetKeeper> {
    const keeper = SheetKeeper.begin(options, state);
    await keeper.#writing;
    return keeper;
  }

  /** Reads what earlier sittings left here. Nothing is written or sent before, so that all stays in order. */
  async #join(): Promise<void> {
    const { device, personId, sheetId } = this.#o;
    if (device) {
      try {
        const [kept, history, clashes] = await Promise.all([
          device.kept(personId, sheetId),
          device.history(personId, sheetId),
          device.clashes(personId, sheetId),
        ]);
        this.#pending = [...kept, ...(await this.#takeLastWords(kept)), ...this.#pending];
        this.#undo = [...history.undo, ...this.#undo];
        this.#redo = [...history.redo, ...this.#redo];
        this.#clashes = clashes;
      } catch {
        this.#deviceFailed = true;
      }
    }
    this.#joined = true;
    this.#rebuild();
    this.#kick();
  }

  /** What a closing tab could only leave in haste; some of it may have been kept all the same. */
  async #takeLastWords(kept: readonly Change[]): Promise<Change[]> {
    const { device, personId, sheetId } = this.#o;
    const there = new Set(kept.map((c) => c.id));
    const words = lastWords(personId, sheetId);
    // Nothing is taken away that was not read: another tab may be leaving its words this very moment.
    if (words.length === 0) return [];
    const left = words.filter((c) => !there.has(c.id));
    await device?.keep(left.map((change) => ({ personId, sheetId, change })));
    forgetLastWords(personId, sheetId);
    return left;
  }

  get view(): KeeperView {
    return this.#view;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** Does a gesture. Gestures with the same `merge` key, one right after the other, are undone as one. */
  do(changes: Gesture, merge: string | null = null): void {
    if (changes.length === 0) return;
    this.#push(changes);
    const last = this.#undo.at(-1);
    if (merge !== null && merge === this.#mergeKey && last) {
      this.#undo.pop();
      const merged = mergeGestures(last, changes);
      if (merged.length) this.#undo.push(merged);
    } else this.#undo.push(changes);
    if (this.#undo.length > MOST_GESTURES) this.#undo.shift();
    this.#redo = [];
    this.#mergeKey = merge;
    this.#keepHistory();
    this.#emit();
  }

  /** Writes an answer. */
  answer(question: QuestionId, value: string, merge: string | null = null, pasted = 0): void {
    const now = this.#sheet.answers.get(question);
    if ((now?.value ?? '') === value) return;
    const base = now?.version ?? null;
    const change = {
      id: this.#o.newId(),
      base,
      type: 'answer' as const,
      question,
      value,
      was: now?.value ?? '',
    };
    this.do([pasted ? { ...change, pasted: Math.min(pasted, value.length) } : change], merge);
  }

  /** Writes a field of the slip. */
  write<F extends SlipField>(field: F, value: SlipValue<F>, merge: string | null = null): void {
    const now = this.#sheet.slip[field];
    if (same(now.value, value)) return;
    this.do(
      [{ id: this.#o.newId(), base: now.version, type: 'write', field, value, was: now.value } as Change],
      merge,
    );
  }

  /** Takes the last gesture back, leaving alone what another has changed since. Gives what it touched. */
  undo(): Gesture {
    return this.#takeBack(this.#undo, this.#redo);
  }

  redo(): Gesture {
    return this.#takeBack(this.#redo, this.#undo);
  }

  #takeBack(from: Gesture[], to: Gesture[]): Gesture {
    this.#mergeKey = null;
    for (let gesture = from.pop(); gesture; gesture = from.pop()) {
      const done: Change[] = [];
      let sheet = this.#sheet;
      for (const change of gesture.toReversed()) {
        if (!stillStands(sheet, change)) continue;
        const inverse = invertChange(change, this.#o.newId(), versionOf(sheet, subjectOf(change)));
        if (!inverse) continue;
        sheet = applyChange(sheet, inverse);
        done.push(inverse);
      }
      if (done.length === 0) continue;
      this.#push(done);
      to.push(done);
      this.#keepHistory();
      this.#emit();
      return done;
    }
    this.#keepHistory();
    this.#emit();
    return [];
  }

  /** My version of a clash again on top of what stands now, or let it go. */
  settle(clash: Clash, choice: 'mine' | 'theirs'): void {
    this.#clashes = this.#clashes.filter((c) => c !== clash);
    this.#o.device?.settleClash(clash).catch(() => {});
    if (choice === 'mine') this.do([rebase(clash.mine, this.#sheet, this.#o.newId())]);
    else this.#emit();
  }

  /** What others did meanwhile. Safe to call at any time. */
  async catchUp(): Promise<void> {
    while (this.#sending) await this.#turn;
    this.#sending = true;
    let end = () => {};
    this.#turn = new Promise((resolve) => (end = resolve));
    try {
      await this.#fetchSince();
      this.#failures = 0;
    } catch {
      // The next change or the next call asks again.
    } finally {
      this.#sending = false;
      end();
      this.#emit();
    }
    this.#kick();
  }

  /** The server is known to have this many changes: what is not one's own is fetched. */
  async heardOf(seq: number): Promise<void> {
    while (this.#sending) await this.#turn;
    if (seq > this.#seq) await this.catchUp();
  }

  /** Resolves when everything done so far is on the device, or known not to be. */
  written(): Promise<void> {
    return this.#writing;
  }

  /** The tab is being closed: what is not on the device yet is left where it can be in no time. */
  leave(): void {
    const waiting = this.#o.device ? this.#unwritten : this.#pending;
    leaveLastWords(this.#o.personId, this.#o.sheetId, waiting);
  }

  /** A tab that took its time to close has left something since this one began. */
  async takeOver(): Promise<void> {
    const { device, personId, sheetId } = this.#o;
    await this.#writing;
    if (!this.#joined) return;
    const kept = (await device?.kept(personId, sheetId).catch(() => [])) ?? [];
    const left = await this.#takeLastWords(kept).catch(() => []);
    const there = new Set(this.#pending.map((c) => c.id));
    const late = [...kept, ...left].filter((c) => !there.has(c.id));
    if (late.length === 0) return;
    this.#pending.push(...late);
    this.#rebuild();
    this.#kick();
  }

  /** Try now instead of waiting: the network is back. */
  retryNow(): void {
    this.#failures = 0;
    if (this.#sending) this.#retryAsked = true;
    else this.#kick();
  }

  #push(changes: Gesture): void {
    this.#pending.push(...changes);
    this.#sheet = applyAll(this.#sheet, changes);
    const { device, personId, sheetId } = this.#o;
    if (device) {
      this.#unwritten.push(...changes);
      this.#writing = this.#writing
        .then(() => device.keep(changes.map((change) => ({ personId, sheetId, change }))))
        .then(
          () => this.#wrote(true),
          () => this.#wrote(false),
        )
        .finally(() => {
          const written = new Set(changes);
          this.#unwritten = this.#unwritten.filter((c) => !written.has(c));
          this.#emit();
          this.#kick();
        });
    } else this.#kick();
  }

  /** Whether this browser still keeps what it is given. */
  #wrote(fine: boolean): void {
    this.#deviceFailed = !fine;
  }

  #keepHistory(): void {
    const { device, personId, sheetId } = this.#o;
    if (!this.#joined) return;
    device
      ?.keepHistory(personId, sheetId, { undo: this.#undo.slice(-MOST_GESTURES), redo: this.#redo })
      .catch(() => {});
  }

  /** Sends what waits, one batch after the other, as long as the server answers. */
  #kick(): void {
    if (
      !this.#joined ||
      this.#sending ||
      this.#pending.length === 0 ||
      (this.#unwritten.length > 0 && !this.#deviceFailed)
    )
      return;
    this.#sending = true;
    this.#retryAsked = false;
    this.#emit();
    this.#turn = this.#sendAll()
      .then(
        () => {
          this.#failures = 0;
        },
        () => {
          if (this.#retryAsked) return;
          const wait = RETRY_MS[Math.min(this.#failures, RETRY_MS.length - 1)]!;
          this.#failures++;
          this.#o.later(() => this.#kick(), wait);
        },
      )
      .finally(() => {
        this.#sending = false;
        this.#emit();
        if (this.#failures === 0) this.#kick();
      });
  }

  async #sendAll(): Promise<void> {
    while (this.#pending.length) {
      const batch = this.#pending.slice(0, BATCH_LIMIT);
      try {
        await this.#take(batch, await this.#o.post.send(this.#o.sheetId, batch));
      } catch (error) {
        if (!(error instanceof CallFailed) || !REFUSED_WHOLE.has(error.code)) throw error;
        // One change the server cannot read must not hold up the others: it is put aside where it can be seen.
        if (error.code === 'taken-back')
          for (const change of batch) await this.#putAside(change, 'taken-back');
        else if (batch.length === 1) await this.#putAside(batch[0]!, 'bad-input');
        else for (const change of batch) await this.#sendOne(change);
      }
      this.#o.committed(batch);
    }
  }

  async #sendOne(change: Change): Promise<void> {
    try {
      await this.#take([change], await this.#o.post.send(this.#o.sheetId, [change]));
    } catch (error) {
      if (error instanceof CallFailed && error.code === 'bad-input')
        await this.#putAside(change, 'bad-input');
      else throw error;
    }
  }

  async #take(batch: readonly Change[], answer: BatchAnswer): Promise<void> {
    const applied = batch.filter((_, i) => answer.results[i]!.outcome === 'applied');
    const inStep = answer.seq === this.#seq + applied.length;
    if (inStep && applied.length === batch.length) return this.#confirm(batch, answer.seq);
    if (inStep) {
      this.#confirmed = applyAll(this.#confirmed, applied);
      this.#seq = answer.seq;
    } else await this.#fetchSince();
    for (const [i, change] of batch.entries()) {
      const { outcome, reason } = answer.results[i]!;
      if (outcome === 'conflict') await this.#putAside(change, 'conflict');
      else if (outcome === 'refused') await this.#putAside(change, reason ?? 'bad-input');
    }
    await this.#drop(new Set(batch.map((c) => c.id)));
  }

  /** The server has exactly what was sent and nothing else is new: what is shown stays the very same sheet. */
  async #confirm(batch: readonly Change[], seq: number): Promise<void> {
    const ids: ReadonlySet<string> = new Set(batch.map((c) => c.id));
    this.#pending = this.#pending.filter((c) => !ids.has(c.id));
    this.#confirmed = this.#pending.length ? applyAll(this.#confirmed, batch) : this.#sheet;
    this.#seq = seq;
    this.#emit();
    await this.#forget(ids);
  }

  async #fetchSince(): Promise<void> {
    for (;;) {
      const { seq, changes } = await this.#o.post.since(this.#o.sheetId, this.#seq);
      this.#confirmed = applyAll(this.#confirmed, changes);
      this.#seq = Math.max(this.#seq, seq);
      await this.#drop(new Set(changes.map((c) => c.id)));
      if (changes.length === 0) return;
    }
  }

  async #putAside(mine: Change, why: Clash['why']): Promise<void> {
    const subject = subjectOf(mine);
    const clash: Clash = { sheetId: this.#o.sheetId, personId: this.#o.personId, subject, mine, why };
    await this.#o.device?.keepClash(clash).catch(() => {});
    this.#clashes = [...this.#clashes.filter((c) => c.subject !== subject), clash];
    await this.#drop(new Set([mine.id]));
  }

  async #drop(ids: ReadonlySet<string>): Promise<void> {
    if (ids.size === 0) return;
    this.#pending = this.#pending.filter((c) => !ids.has(c.id));
    this.#rebuild();
    await this.#forget(ids);
  }

  async #forget(ids: ReadonlySet<string>): Promise<void> {
    await this.#o.device?.forget(this.#o.personId, this.#o.sheetId, ids).catch(() => {});
  }

  #rebuild(): void {
    this.#sheet = applyAll(this.#confirmed, this.#pending);
    // What stands already where I wanted it is no clash.
    const open = this.#clashes.filter((c) => c.why !== 'conflict' || !stillStands(this.#sheet, c.mine));
    if (open.length !== this.#clashes.length) this.#clashes = open;
    this.#emit();
  }

  #emit(): void {
    const next = this.#makeView();
    const keys = Object.keys(next) as (keyof KeeperView)[];
    // Nothing new to see: nobody renders.
    if (keys.every((key) => next[key] === this.#view[key])) return;
    this.#view = next;
    for (const listener of this.#listeners) listener();
  }

  #makeView(): KeeperView {
    const waiting = this.#pending.length;
    const save: SaveState =
      waiting === 0
        ? 'saved'
        : this.#deviceFailed && this.#failures > 0
          ? 'loose'
          : this.#failures > 0
            ? 'kept'
            : 'saving';
    return {
      sheet: this.#sheet,
      save,
      waiting,
      clashes: this.#clashes,
      canUndo: this.#undo.length > 0,
      canRedo: this.#redo.length > 0,
    };
  }
}

/** Two gestures as one: of each subject the first "before" and the last "after". */
function mergeGestures(first: Gesture, second: Gesture): Gesture {
  const out = [...first];
  for (const change of second) {
    const i = out.findIndex((c) => subjectOf(c) === subjectOf(change));
    const before = out[i];
    if (before?.type === 'put' && change.type === 'put') out[i] = { ...change, was: before.was };
    else if (before?.type === 'put' && change.type === 'remove') {
      // What came and went within one gesture was never there.
      if (before.was) out[i] = { ...change, was: before.was };
      else out.splice(i, 1);
    } else if (
      (before?.type === 'write' && change.type === 'write') ||
      (before?.type === 'answer' && change.type === 'answer')
    )
      out[i] = { ...change, was: before.was } as Change;
    else out.push(change);
  }
  return out;
}

/** The same wish on top of what stands now. */
function rebase(change: Change, sheet: Sheet, id: ChangeId): Change {
  const base = versionOf(sheet, subjectOf(change));
  if (change.type === 'write') return { ...change, id, base, was: sheet.slip[change.field].value } as Change;
  if (change.type === 'answer')
    return { ...change, id, base, was: sheet.answers.get(change.question)?.value ?? '' };
  const now = sheet.marks.get(markOf(change))?.value ?? null;
  return { ...change, id, base, was: now };
}

import {
  applyAll,
  applyChange,
  type CopyBatchAnswer as BatchAnswer,
  type Change,
  type ChangeId,
  type Gesture,
  invertChange,
  mergeGestures,
  type QuestionId,
  rebaseChange,
  type Score,
  type ScoreChange,
  type ScoreOf,
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
import { isRefusal, Lane, type SaveState } from './lane.ts';
import { isChange, type Letter } from './letter.ts';

/** How the changes of a sheet travel. */
export interface Post {
  send(sheetId: SheetId, changes: readonly Change[]): Promise<BatchAnswer>;
  since(sheetId: SheetId, after: number): Promise<{ seq: number; changes: Change[] }>;
  /** How anything else goes that waits in the same lane; it is settled when this resolves. */
  sendOther?(sheetId: SheetId, letter: Letter, waited: boolean): Promise<void>;
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
  /** What waits and is no change: a hand-in. */
  readonly others: readonly Letter[];
  readonly clashes: readonly Clash[];
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}

export interface KeeperOptions {
  readonly sheetId: SheetId;
  readonly personId: string;
  readonly device: Device | null;
  readonly post: Post;
  newId(): ChangeId;
  /** Called later; tests call it themselves. */
  later(work: () => void, ms: number): void;
  /** Hears what the server has committed, also after the desk is gone. */
  committed(changes: readonly Change[]): void;
  /** Nothing is read before this: another has still something of this sheet in hand. */
  readonly after?: Promise<unknown>;
}

/** Undo further back than this is not kept. */
const MOST_GESTURES = 300;
const NONE: readonly Letter[] = [];

/**
 * The one owner of a marking, or of a student's copy, in this tab. A change is shown at once and put into its lane of the outbox. What is shown is
 * always the server's sheet with all that still waits applied to it.
 */
export class SheetKeeper {
  readonly #o: KeeperOptions;
  readonly #lane: Lane;
  #confirmed: Sheet;
  #seq: number;
  #sheet: Sheet;
  #undo: Gesture[] = [];
  #redo: Gesture[] = [];
  #mergeKey: string | null = null;
  #clashes: Clash[] = [];
  #view: KeeperView;
  readonly #listeners = new Set<() => void>();

  private constructor(options: KeeperOptions, state: KeptState) {
    this.#o = options;
    this.#confirmed = state.sheet;
    this.#seq = state.seq;
    this.#sheet = this.#confirmed;
    this.#lane = new Lane({
      personId: options.personId,
      lane: options.sheetId,
      device: options.device,
      later: options.later,
      send: (batch, waited) => this.#send(batch, waited),
      changed: () => this.#emit(),
      joined: () => this.#rebuild(),
    });
    this.#view = this.#makeView();
  }

  /** Starts from the server's state at once; what this device still keeps for it joins a moment later. */
  static begin(options: KeeperOptions, state: KeptState): SheetKeeper {
    const keeper = new SheetKeeper(options, state);
    keeper.#lane.join((options.after ?? Promise.resolve()).then(() => keeper.#readHistory()));
    return keeper;
  }

  /** The same, with what the device keeps already in it. */
  static async open(options: KeeperOptions, state: KeptState): Promise<SheetKeeper> {
    const keeper = SheetKeeper.begin(options, state);
    await keeper.written();
    return keeper;
  }

  async #readHistory(): Promise<void> {
    const { device, personId, sheetId } = this.#o;
    if (!device) return;
    try {
      const [history, clashes] = await Promise.all([
        device.history(personId, sheetId),
        device.clashes(personId, sheetId),
      ]);
      this.#undo = [...history.undo, ...this.#undo];
      this.#redo = [...history.redo, ...this.#redo];
      this.#clashes = clashes;
    } catch {
      // What was done before cannot be taken back then; the lane finds out that nothing is kept here.
    }
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

  /** Writes into a text that grows: what is to be merged, in base64. Its editor takes it back by writing again. */
  writeText(question: QuestionId, update: string, pasted = 0): void {
    this.#push([
      {
        id: this.#o.newId(),
        base: null,
        type: 'text',
        question,
        update,
        ...(pasted > 0 && { pasted: Math.min(pasted, 1_000_000) }),
      },
    ]);
    this.#emit();
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

  /** Scores a question or a criterion; null takes its score away. */
  score(of: ScoreOf, value: Score | null, merge: string | null = null): void {
    const change = this.scoreChange(of, value);
    if (change) this.do([change], merge);
  }

  /** The change that does it; null: it stands like that already. */
  scoreChange(of: ScoreOf, value: Score | null): ScoreChange | null {
    const now = this.#sheet.scores.get(of) ?? { value: null, version: null };
    if (same(now.value, value)) return null;
    return { id: this.#o.newId(), base: now.version, type: 'score', of, value, was: now.value };
  }

  /** Puts something else behind all that was done: it goes when that has gone. */
  thenSend(letter: Letter): void {
    this.#lane.put([letter]);
    this.#emit();
  }

  /** The last change of the newest gesture that can be taken back; null: there is none. */
  get newest(): ChangeId | null {
    return this.#undo.at(-1)?.at(-1)?.id ?? null;
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
    if (choice === 'mine') this.do([rebaseChange(clash.mine, this.#sheet, this.#o.newId())]);
    else this.#emit();
  }

  /** What others did meanwhile. Safe to call at any time. */
  catchUp(): Promise<void> {
    return this.#lane.alone(() => this.#fetchSince());
  }

  /** The server is known to have this many changes: what is not one's own is fetched. */
  async heardOf(seq: number): Promise<void> {
    await this.#lane.quiet();
    if (seq > this.#seq) await this.catchUp();
  }

  /** Resolves when everything done so far is on the device, or known not to be. */
  written(): Promise<void> {
    return this.#lane.written();
  }

  /** The tab is being closed: what is not on the device yet is left where it can be in no time. */
  leave(): void {
    this.#lane.leave();
  }

  /** A tab that took its time to close has left something since this one began. */
  takeOver(): Promise<void> {
    return this.#lane.takeOver();
  }

  /** Try now instead of waiting: the network is back. */
  retryNow(): void {
    this.#lane.retryNow();
  }

  /** Nothing more is sent from here: another goes on with what waits. */
  close(): Promise<void> {
    return this.#lane.close();
  }

  #push(changes: Gesture): void {
    this.#sheet = applyAll(this.#sheet, changes);
    this.#lane.put(changes);
  }

  #keepHistory(): void {
    const { device, personId, sheetId } = this.#o;
    if (!this.#lane.joined) return;
    device
      ?.keepHistory(personId, sheetId, { undo: this.#undo.slice(-MOST_GESTURES), redo: this.#redo })
      .catch(() => {});
  }

  async #send(batch: readonly Letter[], waited: boolean): Promise<void> {
    const changes = batch.filter(isChange);
    if (changes.length === 0) return this.#sendOther(batch[0]!, waited);
    try {
      await this.#take(changes, await this.#o.post.send(this.#o.sheetId, changes));
    } catch (error) {
      if (!isRefusal(error)) throw error;
      // One change the server cannot read must not hold up the others: it is put aside where it can be seen.
      if (error.code === 'taken-back' || error.code === 'still-open')
        for (const change of changes) await this.#putAside(change, error.code);
      else if (changes.length === 1) await this.#putAside(changes[0]!, 'bad-input');
      else for (const change of changes) await this.#sendOne(change);
    }
    this.#o.committed(changes);
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

  async #sendOther(letter: Letter, waited: boolean): Promise<void> {
    await this.#o.post.sendOther!(this.#o.sheetId, letter, waited);
    await this.#lane.drop(new Set([letter.id]));
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
    const more = this.#lane.waiting.some((l) => isChange(l) && !ids.has(l.id));
    this.#confirmed = more ? applyAll(this.#confirmed, batch) : this.#sheet;
    this.#seq = seq;
    await this.#lane.drop(ids);
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
    const dropped = this.#lane.drop(ids);
    this.#rebuild();
    await dropped;
  }

  #rebuild(): void {
    this.#sheet = applyAll(this.#confirmed, this.#lane.waiting.filter(isChange));
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
    const { waiting, save } = this.#lane;
    return {
      sheet: this.#sheet,
      save,
      waiting: waiting.length,
      others: waiting.every(isChange) ? NONE : waiting.filter((l) => !isChange(l)),
      clashes: this.#clashes,
      canUndo: this.#undo.length > 0,
      canRedo: this.#redo.length > 0,
    };
  }
}

import {
  type Change,
  type ChangeId,
  type CopyId,
  type Digest,
  type HandBackId,
  type HandInId,
  type Mark,
  type MarkId,
  type MessageId,
  type PersonId,
  type QuestionId,
  type SlipField,
  type Subject,
  same,
  subjectOf,
} from '@jotmark/core';
import { CallFailed } from '../api/call.ts';
import { putChange } from './changes.ts';
import { Device, type KeptBytes, type SheetId } from './device.ts';
import { BytesToSend } from './kept-bytes.ts';
import { isRefusal, type Lane, type SaveState } from './lane.ts';
import { laneJustLeft, lanesLeft } from './last-words.ts';
import {
  BANK_LANE,
  type BankLetter,
  HEARD_LANE,
  type HeardLetter,
  isChange,
  type LaneId,
  type Letter,
  type OpenedLetter,
  type WordLetter,
  wordsLane,
} from './letter.ts';
import {
  type AnswerStands,
  type Remake,
  type ScoreWrite,
  type SlipWrite,
  standsIn,
  type Valued,
} from './loose-change.ts';
import { looseLane } from './loose-lane.ts';
import { newId } from './new-id.ts';
import type { OutboxNews } from './outbox-news.ts';
import { OwnSent } from './own-sent.ts';
import { ownSheet } from './own-sheet.ts';
import { copyPost, markingPost, sendHeard, sendOpened, sendToBank, sendWord, teacherPost } from './posts.ts';
import { type KeptState, type Post, SheetKeeper } from './sheet-keeper.ts';
import { lineOf, openLine } from './sheet-line.ts';

/** The browser's database has had its chance: it may be held by a tab with an older Jotmark. */
const OPEN_MS = 4000;
const NONE: readonly Letter[] = [];

interface Held {
  readonly keeper: SheetKeeper;
  users: number;
  /** Ends the line to other tabs and to the server. */
  stop: (() => void) | null;
}

/**
 * All that this tab keeps before it is sent, outside of React: the keepers of the sheets that are open (many may be), and lanes of which no
 * sheet is open. Of one person at a time: nothing of one is ever sent in the name of another.
 */
export class Outbox {
  /** Answers that this tab wrote in copies that are not open, and the version that the server had said before. */
  readonly #answered = new Map<QuestionId, AnswerStands & { readonly before: ChangeId | null }>();
  readonly #bytes = new BytesToSend(() => this.device());
  readonly #sent = new OwnSent();
  #device: Device | null | undefined;
  #opening: Promise<Device | null> | null = null;
  #person: { readonly id: PersonId; readonly student: boolean } | null = null;
  readonly #keepers = new Map<SheetId, Held>();
  readonly #lanes = new Map<LaneId, Lane>();
  readonly #watchers = new Set<() => void>();
  readonly #hearers = new Set<(news: OutboxNews) => void>();
  #version = 0;

  /** The browser's own database, or null where it keeps nothing (private windows of some browsers, a full disk). */
  device(): Promise<Device | null> {
    this.#opening ??= Promise.race([
      Device.open().catch(() => null),
      new Promise<null>((resolve) => setTimeout(resolve, OPEN_MS, null)),
    ]).then((device) => {
      this.#device = device;
      return device;
    });
    return this.#opening;
  }

  /** Whose it is now; null: nobody's. */
  get personId(): PersonId | null {
    return this.#person?.id ?? null;
  }

  /** Undefined until it is open. */
  get deviceNow(): Device | null | undefined {
    return this.#device;
  }

  /** From now on it is this person's, and what earlier sittings of theirs left is sent. */
  async begin(id: PersonId, student: boolean): Promise<void> {
    if (this.#person?.id !== id) this.end();
    this.#person = { id, student };
    const device = await this.device();
    const kept = (await device?.waiting(id).catch(() => [])) ?? [];
    if (this.#person?.id !== id) return;
    for (const lane of new Set([...kept, ...lanesLeft(id)]))
      if (!this.#keepers.has(lane as SheetId)) this.lane(lane);
  }

  /** Nobody is signed in: nothing more is sent, all stays on this device. */
  end(): void {
    for (const { keeper, stop } of this.#keepers.values()) {
      stop?.();
      keeper.close();
    }
    for (const lane of this.#lanes.values()) lane.close();
    this.#keepers.clear();
    this.#lanes.clear();
    this.#sent.clear();
    this.#person = null;
    this.#changed();
  }

  /** Try now instead of waiting: the network is back. */
  readonly retryNow = (): void => {
    for (const lane of this.#lanes.values()) lane.retryNow();
    for (const { keeper } of this.#keepers.values()) keeper.retryNow();
  };

  /** The tab is being closed. */
  readonly leave = (): void => {
    for (const lane of this.#lanes.values()) lane.leave();
    for (const { keeper } of this.#keepers.values()) keeper.leave();
  };

  /** Another tab was closed in haste: what it left is taken over by this one. */
  readonly heir = (event: StorageEvent): void => {
    const lane = this.#person && laneJustLeft(event, this.#person.id);
    // Before the device is open, whoever opens the lane finds it there.
    if (!lane || this.#device === undefined) return;
    const open = this.#keepers.get(lane as SheetId)?.keeper;
    (open ?? this.lane(lane)).takeOver();
  };

  /** The keeper of a sheet in this tab; made when it is asked for the first time. The device must be open. */
  keeperOf(sheetId: SheetId, state: () => KeptState): SheetKeeper {
    const known = this.#keepers.get(sheetId);
    if (known) return known.keeper;
    const loose = this.#lanes.get(sheetId);
    this.#lanes.delete(sheetId);
    let held: Held | null = null;
    const keeper = SheetKeeper.begin(
      {
        sheetId,
        personId: this.#person!.id,
        device: this.#device ?? null,
        post: this.#post(),
        newId: () => newId<ChangeId>(),
        later: (work, ms) => void setTimeout(work, ms),
        committed: (changes) => {
          this.#written(sheetId, changes, true);
          if (held?.stop) new BroadcastChannel(lineOf(sheetId)).postMessage('committed');
        },
        ...(loose ? { after: loose.close() } : {}),
      },
      state(),
    );
    held = { keeper, users: 0, stop: null };
    this.#keepers.set(sheetId, held);
    keeper.subscribe(() => this.#letGo(sheetId));
    return keeper;
  }

  /** Somebody shows this sheet from now on, and keeps its line to others open. Gives how to stop. */
  use(sheetId: SheetId, keeper: SheetKeeper): () => void {
    const held = this.#keepers.get(sheetId) ?? { keeper, users: 0, stop: null };
    this.#keepers.set(sheetId, held);
    held.users++;
    held.stop ??= openLine(sheetId, held.keeper);
    return () => {
      held.users--;
      // What belongs to leaving the sheet is still being put in.
      setTimeout(() => this.#letGo(sheetId), 0);
    };
  }

  /** A sheet that nobody shows and of which nothing waits is let go. */
  #letGo(sheetId: SheetId): void {
    const held = this.#keepers.get(sheetId);
    if (!held || held.users > 0) return;
    held.stop?.();
    held.stop = null;
    if (held.keeper.view.waiting === 0) this.#keepers.delete(sheetId);
  }

  #post(): Post {
    const { id: personId, student } = this.#person!;
    const own = copyPost({
      handedIn: (copyId, work, waited) => this.#tell({ of: 'handed-in', personId, copyId, work, waited }),
      refused: (copyId, error) => this.#tell({ of: 'hand-in-refused', copyId, error }),
    });
    return student ? own : teacherPost(markingPost(this.#bytes), own);
  }

  /** The sheet of this person's own copy. */
  ownSheet(copyId: CopyId): SheetId {
    return ownSheet(copyId, this.#person?.student ?? true);
  }

  /** A lane of which no sheet is open. The device must be open. */
  lane(id: LaneId): Lane {
    const known = this.#lanes.get(id);
    if (known) return known;
    const lane = looseLane({
      personId: this.#person!.id,
      lane: id,
      device: this.#device ?? null,
      post: this.#post(),
      later: (work, ms) => void setTimeout(work, ms),
      changed: () => this.#changed(),
      say: (copyId, letter) => this.#say(copyId, letter),
      bank: (letter) => this.#toBank(letter),
      heard: (letter) => this.#heardOf(letter),
      committed: (changes) => this.#written(id as SheetId, changes, false),
      setAside: (clash) => this.#tell({ of: 'aside', clash }),
    });
    this.#lanes.set(id, lane);
    return lane;
  }

  async #say(copyId: CopyId, letter: WordLetter): Promise<void> {
    try {
      this.#tell({ of: 'said', copyId, conversation: await sendWord(copyId, letter) });
    } catch (error) {
      if (!isRefusal(error)) throw error;
      this.#tell({ of: 'word-refused', personId: this.#person!.id, copyId, letter, error });
    }
  }

  async #heardOf(letter: HeardLetter | OpenedLetter): Promise<void> {
    if (letter.type === 'heard') return sendHeard(letter);
    const closed = await sendOpened(letter);
    if (closed !== null) this.#tell({ of: 'opened', closed });
  }

  async #toBank(letter: BankLetter): Promise<void> {
    try {
      const bank = await sendToBank(letter);
      if (bank) this.#tell({ of: 'bank', bank });
    } catch (error) {
      // A bank that is full today is full tomorrow; a use that cannot be counted is nobody's loss.
      const final = isRefusal(error) || (error instanceof CallFailed && error.code === 'bank-full');
      if (!final) throw error;
      if (letter.type === 'phrase') this.#tell({ of: 'phrase-refused', words: letter.phrase.words, error });
    }
  }

  /** Does something with one's bank: kept here, sent as soon as there is a network. Resolves when it is kept. */
  async putToBank(letters: readonly BankLetter[]): Promise<void> {
    await this.device();
    const lane = this.lane(BANK_LANE);
    lane.put(letters);
    this.#changed();
    await lane.written();
  }

  /** A student heard what was handed back, up to here: of many such words about one recording only the last waits. */
  async heard(
    handBackId: HandBackId,
    { file, reached, left }: Pick<HeardLetter, 'file' | 'reached' | 'left'>,
  ): Promise<void> {
    await this.device();
    const lane = this.lane(HEARD_LANE);
    const before = lane.waiting.filter(
      (l) => l.type === 'heard' && l.file === file && l.handBackId === handBackId,
    );
    lane.put([{ type: 'heard', id: newId<MessageId>(), handBackId, file, reached, left }]);
    if (lane.save === 'kept') await lane.drop(new Set(before.map((l) => l.id)));
    this.#changed();
  }

  /** A student opened these notes of what was handed back; without any: the copy itself. */
  async opened(handBackId: HandBackId, marks: readonly MarkId[]): Promise<void> {
    await this.device();
    this.lane(HEARD_LANE).put([{ type: 'opened', id: newId<MessageId>(), handBackId, marks: [...marks] }]);
    this.#changed();
  }

  /** Says words on a copy: kept here, sent as soon as there is a network. Resolves when they are kept. */
  async say(copyId: CopyId, letter: WordLetter): Promise<void> {
    await this.device();
    const lane = this.lane(wordsLane(copyId));
    lane.put([letter]);
    this.#changed();
    await lane.written();
  }

  /** Writes on the slip of a copy that may not be open: with the same change that the desk would send. Resolves when it is kept, with that change; null: it stood like that already. */
  writeSlip<F extends SlipField>({ sheetId, field, value, was, base }: SlipWrite<F>): Promise<Change | null> {
    const make: Remake = (stands) => ({ ...stands, type: 'write', field, value }) as Change;
    return this.#change(sheetId, `slip:${field}`, { was, base }, make);
  }

  /** Scores something in a marking that may not be open. Resolves when it is kept, with the change that did it; null: it stood like that already. */
  writeScore({ sheetId, of, value, was, base }: ScoreWrite): Promise<Change | null> {
    const make: Remake = (stands) => ({ ...stands, type: 'score', of, value }) as Change;
    return this.#change(sheetId, `score:${of}`, { was, base }, make);
  }

  /** Puts changes into a sheet that may not be open, as they are. Resolves when they are kept. */
  async put(sheetId: SheetId, changes: readonly Change[]): Promise<void> {
    await this.device();
    const open = this.#keepers.get(sheetId)?.keeper;
    const lane = open ? null : this.lane(sheetId);
    if (open) open.do(changes);
    else lane!.put(changes);
    this.#changed();
    await (open ?? lane!).written();
  }

  /** A change of something that has a value: made on what stands there now, in a sheet that is open, or on what waits, or on what was read. */
  async #change(
    sheetId: SheetId,
    subject: Subject,
    read: { readonly was: unknown; readonly base: ChangeId | null },
    make: Remake,
  ): Promise<Change | null> {
    await this.device();
    const open = this.#keepers.get(sheetId)?.keeper;
    const lane = open ? null : this.lane(sheetId);
    await lane?.written();
    const before = lane?.waiting.findLast((l) => isChange(l) && subjectOf(l) === subject) as
      | Valued
      | undefined;
    const stands = open
      ? standsIn(open.view.sheet, subject)
      : before
        ? { base: before.id, was: before.value }
        : this.#sent.standsAfter(sheetId, subject, read);
    const change = make({ id: newId<ChangeId>(), ...stands });
    if (same((change as Valued).value, stands.was)) return null;
    if (open) open.do([change]);
    else lane!.put([change]);
    this.#changed();
    await (open ?? lane!).written();
    return change;
  }

  /** Bytes that a change will name: they go before it. Resolves when they are kept. */
  keepBytes(file: Digest, kept: KeptBytes): Promise<void> {
    return this.#bytes.keep(file, kept);
  }

  /** Bytes that are still on their way; null: the server has them. */
  findBytes(file: Digest): Promise<KeptBytes | null> {
    return this.#bytes.find(file);
  }

  /**
   * Puts a mark into a marking that may not be open. `make` is given what stands there now, null where nothing does; of one that is not open what stood when
   * `was` was read. Resolves when it is kept.
   */
  async putMark(
    handInId: HandInId,
    {
      id,
      base,
      was,
      make,
    }: {
      readonly id: MarkId;
      readonly base: ChangeId | null;
      readonly was: Mark | null;
      make(now: Mark | null): Mark;
    },
  ): Promise<void> {
    await this.device();
    const open = this.#keepers.get(handInId)?.keeper;
    if (open) {
      const now = open.view.sheet.marks.get(id)?.value ?? null;
      const mark = make(now);
      open.do([putChange(open, mark, now)]);
      return open.written();
    }
    const lane = this.lane(handInId);
    await lane.written();
    const before = lane.waiting.findLast((l) => l.type === 'put' && l.mark.id === id) as
      | Extract<Change, { type: 'put' }>
      | undefined;
    const mark = make(before?.mark ?? was);
    const same = mark.id === id;
    lane.put([
      {
        id: newId<ChangeId>(),
        base: same ? (before?.id ?? base) : null,
        type: 'put',
        mark,
        was: same ? (before?.mark ?? was) : null,
      },
    ]);
    this.#changed();
    await lane.written();
  }

  /**
   * Changes an answer of a copy that may not be open. `remake` is given the answers as they stand now, with what this device wrote since the server
   * last said them, and says which answer is another; or null. Resolves when it is kept, with whether there was anything to change.
   */
  async changeAnswer(
    copyId: CopyId,
    said: readonly AnswerStands[],
    remake: (answers: ReadonlyMap<QuestionId, string>) => { question: QuestionId; text: string } | null,
  ): Promise<boolean> {
    await this.device();
    const sheet = this.ownSheet(copyId);
    const open = this.#keepers.get(sheet);
    if (open) {
      const { answers } = open.keeper.view.sheet;
      const made = remake(new Map([...answers].map(([q, a]) => [q, a.value])));
      if (made) open.keeper.answer(made.question, made.text, `accept:${made.question}`, 0);
      return made !== null;
    }
    const lane = this.lane(sheet);
    await lane.written();
    const stands = new Map<QuestionId, AnswerStands>();
    for (const now of said) {
      // What was sent a moment ago stands there before the server's word of it is here.
      const own = this.#answered.get(now.question);
      stands.set(now.question, own && own.before === now.version ? own : now);
    }
    for (const l of lane.waiting)
      if (l.type === 'answer')
        stands.set(l.question, { question: l.question, value: l.value, version: l.id });
    const made = remake(new Map([...stands].map(([q, a]) => [q, a.value])));
    if (!made) return false;
    const { question, text } = made;
    const was = stands.get(question);
    const id = newId<ChangeId>();
    lane.put([
      { id, base: was?.version ?? null, type: 'answer', question, value: text, was: was?.value ?? '' },
    ]);
    const before = said.find((a) => a.question === question)?.version ?? null;
    this.#answered.set(question, { question, value: text, version: id, before });
    this.#changed();
    await lane.written();
    return true;
  }

  /** What waits in a lane of which no sheet is open. */
  waitingIn(id: LaneId): readonly Letter[] {
    return this.#lanes.get(id)?.waiting ?? NONE;
  }

  /** How all lanes stand of which no sheet is open; `waiting` counts letters. */
  get standing(): { readonly save: SaveState; readonly waiting: number } {
    const busy = [...this.#lanes.values()].filter((l) => l.waiting.length);
    const worst = (['loose', 'kept', 'saving'] as const).find((s) => busy.some((l) => l.save === s));
    return { save: worst ?? 'saved', waiting: busy.reduce((n, l) => n + l.waiting.length, 0) };
  }

  /** Another one whenever something waits or no longer waits in a lane of which no sheet is open. */
  get version(): number {
    return this.#version;
  }

  readonly subscribe = (watcher: () => void): (() => void) => {
    this.#watchers.add(watcher);
    return () => this.#watchers.delete(watcher);
  };

  /** Hears what became of what was sent. */
  readonly hear = (hearer: (news: OutboxNews) => void): (() => void) => {
    this.#hearers.add(hearer);
    return () => this.#hearers.delete(hearer);
  };

  /** The server has it. */
  #written(sheetId: SheetId, changes: readonly Change[], open: boolean): void {
    this.#sent.keep(sheetId, changes);
    this.#tell({ of: 'written', sheetId, changes, open });
  }

  #changed(): void {
    this.#version++;
    for (const watcher of this.#watchers) watcher();
  }

  #tell(news: OutboxNews): void {
    for (const hearer of this.#hearers) hearer(news);
  }
}

/** The outbox of this tab. */
export const outbox = new Outbox();

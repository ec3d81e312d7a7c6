import { LEAST_MS, type MarkId, MOST_CLIP_MS, MOST_TIED, type PersonId, type Talk } from '@jotmark/core';
import { newId } from '../outbox/new-id.ts';
import { ClipCamera } from './clip-camera.ts';
import { type Devices, devices } from './devices.ts';
import { dictate, keepWish, wishesText } from './dictation.ts';
import { holdTake, leftTakes } from './left.ts';
import { forgetLeft, rememberLeft } from './may-have-left.ts';
import { Microphone } from './microphone.ts';
import { IDLE, type RecorderNews, type RecorderState, type Wish } from './recorder-state.ts';
import { settleTake } from './settle.ts';
import type { Take } from './takes.ts';
import { type Trouble, troubleOf } from './trouble.ts';
import type { FromVoiceWorker, ToVoiceWorker } from './voice-messages.ts';

/** What is known of a take beside its sound is kept at most this often, in ms. */
const NOTE_MS = 1000;

/** The recorder of this tab, outside of React: one recording at a time, which goes on wherever one goes in the app, and ends in the marking it was begun in. */
export class Recorder {
  #state: RecorderState = IDLE;
  #worker: Worker | null = null;
  #talk: { made: Talk['made']; seen: Talk['seen'] } = { made: [], seen: [] };
  #captions: { at: number; words: string }[] = [];
  #startedAt = 0;
  #from: Devices | null = null;
  #release: (() => void) | null = null;
  #deafen: (() => void) | null = null;
  #clip: ClipCamera | null = null;
  #noted = 0;
  #ending = false;
  readonly #recovering = new Set<string>();
  readonly #watchers = new Set<() => void>();
  readonly #levels = new Set<(level: number) => void>();
  readonly #hearers = new Set<(news: RecorderNews) => void>();
  readonly #microphone = new Microphone(
    (port, rate) => this.#post({ kind: 'listen', port, rate }, [port]),
    (why) => this.#state.phase === 'recording' && this.#endFor(why),
  );

  get state(): RecorderState {
    return this.#state;
  }

  readonly subscribe = (watcher: () => void): (() => void) => {
    this.#watchers.add(watcher);
    return () => this.#watchers.delete(watcher);
  };

  /** Hears how loud it is, 0…1, many times a second. */
  readonly onLevel = (watch: (level: number) => void): (() => void) => {
    this.#levels.add(watch);
    return () => this.#levels.delete(watch);
  };

  readonly hear = (hearer: (news: RecorderNews) => void): (() => void) => {
    this.#hearers.add(hearer);
    return () => this.#hearers.delete(hearer);
  };

  /** Begins to record. One recording at a time: while there is one this does nothing. */
  async begin(wish: Wish): Promise<void> {
    if (this.#state.phase !== 'idle' && this.#state.phase !== 'settling') return;
    this.#ending = false;
    this.#set({ ...IDLE, phase: 'opening' });
    try {
      const from = await devices(wish.standIns);
      const clip = wish.clip ? await ClipCamera.open(from) : null;
      if (this.#ending) {
        clip?.close();
        return this.#set(IDLE);
      }
      const { personId, copyId, handInId, place } = wish;
      const take: Take = {
        id: newId<string>(),
        personId,
        copyId,
        handInId,
        place,
        startedAt: Date.now(),
        clip: clip?.type ?? null,
        talk: { made: [], seen: [] },
        captions: [],
      };
      await this.#start(take, from, clip);
    } catch (error) {
      this.#set(IDLE);
      this.#tell({ of: 'trouble', why: troubleOf(error, wish.clip) });
    }
  }

  async #start(take: Take, from: Devices, clip: ClipCamera | null): Promise<void> {
    this.#talk = { made: [], seen: [] };
    this.#captions = [];
    this.#clip = clip;
    this.#post({ kind: 'begin', take });
    if (!clip)
      await this.#microphone.on(from).catch((error: unknown) => {
        this.#post({ kind: 'drop', id: take.id });
        throw error;
      });
    this.#release = holdTake(take.id);
    rememberLeft();
    this.#startedAt = performance.now();
    this.#set({
      phase: 'recording',
      take,
      seconds: 0,
      heard: '',
      sees: clip?.stream ?? null,
      standIn: from.standIn,
      writes: null,
    });
    clip?.start({
      part: (n, bytes) => this.#post({ kind: 'clip-part', id: take.id, n, bytes }, [bytes]),
      runs: (ms, level) => {
        this.#runs(take.id, ms, level);
        if (ms >= MOST_CLIP_MS) this.#endFor('full');
      },
      lost: () => this.#endFor('unplugged'),
    });
    this.#from = from;
    this.writeDown(wishesText() ?? from.standIn, false);
    // Let go while the browser was still asking.
    if (this.#ending) this.end();
  }

  /** Whether what is said is written down too, from now on; `keep`: that is one's wish for later recordings as well. */
  writeDown(on: boolean, keep = true): void {
    if (keep) keepWish(on);
    this.#deafen?.();
    this.#deafen = null;
    const from = this.#from;
    if (on && from?.Recognition && this.#state.phase === 'recording') this.#listenTo(from);
    this.#set({ ...this.#state, heard: '', writes: from?.Recognition ? on : null });
  }

  #listenTo(from: Devices): void {
    let began: number | null = null;
    this.#deafen = dictate(from, {
      interim: (words) => {
        if (words) began ??= this.#now();
        if (words !== this.#state.heard) this.#set({ ...this.#state, heard: words });
      },
      final: (words) => {
        this.#captions.push({ at: Math.round(began ?? this.#now()), words });
        began = null;
        this.#note();
      },
      // Captions can be typed.
      deaf: () => this.#set({ ...this.#state, heard: '', writes: null }),
    });
  }

  /** In ms since it began. */
  #now(): number {
    return Math.max(0, performance.now() - this.#startedAt);
  }

  /** A mark was made while one talks: `from` is when the pen came down, by the page's clock. */
  tie(mark: MarkId, from: number): void {
    if (this.#state.phase !== 'recording' || this.#talk.made.length >= MOST_TIED) return;
    const to = Math.round(this.#now());
    const began = Math.min(to, Math.max(0, Math.round(from - this.#startedAt)));
    this.#talk.made = [...this.#talk.made, { mark, from: began, to }];
    this.#note();
  }

  /** Marks became others: what came of them stands from when they stood. */
  retie(gone: readonly MarkId[], come: readonly MarkId[]): void {
    if (this.#state.phase !== 'recording') return;
    const was = this.#talk.made.filter((m) => gone.includes(m.mark));
    if (was.length === 0) return;
    const [from, to] = [Math.min(...was.map((m) => m.from)), Math.max(...was.map((m) => m.to))];
    this.#talk.made = [...this.#talk.made, ...come.map((mark) => ({ mark, from, to }))].slice(0, MOST_TIED);
    this.#note();
  }

  /** Another page came into view. */
  saw(document: Talk['seen'][number]['document'], page: number): void {
    if (this.#state.phase !== 'recording' || this.#talk.seen.length >= MOST_TIED) return;
    this.#talk.seen = [...this.#talk.seen, { at: Math.round(this.#now()), document, page }];
  }

  /** Ends it: it is made ready and put where it was begun. */
  end(): void {
    this.#ending = true;
    const { phase, take } = this.#state;
    if (phase !== 'recording' || !take) return;
    if (!take.clip && this.#now() < LEAST_MS) return this.#dropFor('too-short');
    // What was heard last is settled first.
    this.#deafen?.();
    this.#deafen = null;
    const whole = this.#wholeTake(take);
    this.#stop();
    this.#set({ ...this.#state, phase: 'settling', take: whole, sees: null, heard: '' });
    if (!take.clip) {
      this.#post({ kind: 'note', take: whole });
      this.#post({ kind: 'finish', id: take.id });
      this.#microphone.off();
    }
  }

  #endFor(why: Trouble): void {
    if (this.#state.phase !== 'recording') return;
    this.#tell({ of: 'trouble', why });
    this.end();
  }

  /** Throws away what is being recorded. */
  drop(): void {
    this.#dropFor(null);
  }

  #dropFor(why: Trouble | null): void {
    this.#ending = true;
    const { phase, take } = this.#state;
    if (phase !== 'recording' || !take) return;
    this.#clip?.drop();
    this.#clip = null;
    this.#stop();
    this.#microphone.off();
    this.#post({ kind: 'drop', id: take.id });
    this.#letGo(false);
    this.#set(IDLE);
    if (why) this.#tell({ of: 'nothing', take, why });
  }

  /** Takes up what tabs that died have left here. */
  async recover(personId: PersonId): Promise<void> {
    for (const { id } of await leftTakes(personId)) {
      if (this.#recovering.has(id) || this.#state.take?.id === id) continue;
      this.#recovering.add(id);
      this.#post({ kind: 'recover', id });
    }
  }

  #wholeTake(take: Take): Take {
    return {
      ...take,
      talk: { made: [...this.#talk.made], seen: [...this.#talk.seen] },
      captions: [...this.#captions],
    };
  }

  /** Keeps what is known beside the sound, now and then. */
  #note(): void {
    const { take } = this.#state;
    if (!take || performance.now() - this.#noted < NOTE_MS) return;
    this.#noted = performance.now();
    this.#post({ kind: 'note', take: this.#wholeTake(take) });
  }

  #stop(): void {
    this.#deafen?.();
    this.#deafen = null;
    const { take } = this.#state;
    const clip = this.#clip;
    this.#clip = null;
    if (!clip || !take) return;
    const whole = this.#wholeTake(take);
    clip.end().then(() => {
      this.#post({ kind: 'note', take: whole });
      this.#post({ kind: 'finish', id: take.id });
    });
  }

  /** `left`: it lies on this device still, and is taken up when Jotmark is opened next. */
  #letGo(left: boolean): void {
    this.#release?.();
    this.#release = null;
    if (!left) forgetLeft();
  }

  #runs(id: string, ms: number, level: number): void {
    if (this.#state.phase !== 'recording' || this.#state.take?.id !== id) return;
    for (const watch of this.#levels) watch(level);
    // The page is rendered once a second, not with every level.
    const seconds = Math.floor(ms / 1000);
    if (seconds !== this.#state.seconds) this.#set({ ...this.#state, seconds });
  }

  async #take(message: FromVoiceWorker): Promise<void> {
    switch (message.kind) {
      case 'heard':
        return this.#runs(message.id, message.ms, message.level);
      case 'full':
        return this.#endFor('full');
      case 'not-kept':
        return this.#tell({ of: 'trouble', why: 'not-kept' });
      case 'failed':
        this.#settled(message.take, true);
        return this.#tell({ of: 'trouble', why: 'not-made' });
      case 'ready': {
        const { take, ready } = message;
        try {
          if (ready) await settleTake(take, ready);
        } catch {
          this.#settled(take, true);
          return this.#tell({ of: 'trouble', why: 'not-made' });
        }
        this.#post({ kind: 'forget', id: take.id });
        const recovered = this.#recovering.delete(take.id);
        this.#settled(take, false);
        if (ready) this.#tell({ of: 'kept', take, recovered });
        else if (!recovered) this.#tell({ of: 'nothing', take, why: 'silent' });
      }
    }
  }

  #settled(take: Take, left: boolean): void {
    if (left) rememberLeft();
    if (this.#state.take?.id !== take.id) return;
    this.#letGo(left);
    this.#set(IDLE);
  }

  #makeWorker(): Worker {
    const worker = new Worker(new URL('./voice.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromVoiceWorker>) => void this.#take(data);
    return worker;
  }

  #post(message: ToVoiceWorker, transfer: Transferable[] = []): void {
    this.#worker ??= this.#makeWorker();
    this.#worker.postMessage(message, transfer);
  }

  #set(next: RecorderState): void {
    this.#state = next;
    for (const watcher of this.#watchers) watcher();
  }

  #tell(news: RecorderNews): void {
    for (const hearer of this.#hearers) hearer(news);
  }
}

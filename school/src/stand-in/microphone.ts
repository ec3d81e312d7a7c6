import { SENTENCE_NAMES, SENTENCES, type SentenceName } from './sentences.ts';

/** Before a made-up teacher begins, and between what they say, in seconds. */
const BREATH = 0.25;
const PAUSE = 0.9;

/** A line that is said: from when to when, in seconds of the context's clock. */
export interface SaidLine {
  readonly words: string;
  readonly from: number;
  readonly to: number;
}

/**
 * A microphone before which a made-up teacher speaks: each time it begins to listen the next sentences are said, from their beginning, one after the other, until it
 * listens no more. Behind the interface of the real one (MediaStreamTrack: `enabled`, `stop`, `ended`).
 */
export class StandInMicrophone {
  readonly #context = new AudioContext({ sampleRate: 48_000 });
  readonly #out = this.#context.createMediaStreamDestination();
  readonly #sounds = new Map<SentenceName, Promise<AudioBuffer>>();
  #speaking: AudioBufferSourceNode | null = null;
  #turn = 0;
  #next = 0;
  #lines: SaidLine[] = [];

  constructor() {
    // The room is never quite silent.
    const room = this.#context.createConstantSource();
    const quiet = this.#context.createGain();
    quiet.gain.value = 0.0002;
    room.connect(quiet).connect(this.#out);
    room.start();
    for (const name of SENTENCE_NAMES) this.#sound(name);
  }

  /** What is said next. */
  say(name: SentenceName): void {
    this.#next = SENTENCE_NAMES.indexOf(name);
  }

  /** The lines that were said, are being said, and come next. */
  get lines(): readonly SaidLine[] {
    return this.#lines;
  }

  get now(): number {
    return this.#context.currentTime;
  }

  /** A track that is this voice. */
  track(): MediaStreamTrack {
    const track = this.#out.stream.getAudioTracks()[0]!.clone();
    const speaks = (on: boolean) => (on ? this.#begin() : this.#hush());
    let enabled = true;
    Object.defineProperty(track, 'enabled', {
      get: () => enabled,
      set: (on: boolean) => {
        if (on === enabled) return;
        enabled = on;
        speaks(on);
      },
    });
    const stop = track.stop.bind(track);
    track.stop = () => {
      this.#hush();
      stop();
    };
    this.#begin();
    return track;
  }

  /** Speaks although no track listens, for who only writes it down. Gives how to end it. */
  listen(): () => void {
    if (this.#speaking) return () => {};
    this.#begin();
    return () => this.#hush();
  }

  #sound(name: SentenceName): Promise<AudioBuffer> {
    const known =
      this.#sounds.get(name) ??
      fetch(new URL(`/stand-in/voice/${name}.ogg`, import.meta.url))
        .then((r) => r.arrayBuffer())
        .then((bytes) => this.#context.decodeAudioData(bytes));
    this.#sounds.set(name, known);
    return known;
  }

  async #begin(): Promise<void> {
    const turn = ++this.#turn;
    this.#lines = [];
    await this.#context.resume();
    let wait = BREATH;
    while (turn === this.#turn) {
      const name = SENTENCE_NAMES[this.#next++ % SENTENCE_NAMES.length]!;
      const sound = await this.#sound(name);
      if (turn !== this.#turn) return;
      const from = this.#context.currentTime + wait;
      this.#lines = [...this.#lines, ...linesOf(name, from, sound.duration)];
      const source = this.#context.createBufferSource();
      source.buffer = sound;
      source.connect(this.#out);
      source.start(from);
      this.#speaking = source;
      await new Promise((resolve) => source.addEventListener('ended', resolve, { once: true }));
      wait = PAUSE;
    }
  }

  #hush(): void {
    this.#turn++;
    this.#speaking?.stop();
    this.#speaking = null;
  }
}

let microphone: StandInMicrophone | null = null;

/** There is one, however often it is asked for. */
export function standInMicrophone(): StandInMicrophone {
  microphone ??= new StandInMicrophone();
  return microphone;
}

/** When each line is said, by its letters. */
function linesOf(name: SentenceName, from: number, seconds: number): SaidLine[] {
  const lines: readonly string[] = SENTENCES[name];
  const letters = lines.reduce((sum, line) => sum + line.length, 0);
  let at = from;
  return lines.map((words) => {
    const begin = at;
    at += (seconds * words.length) / letters;
    return { words, from: begin, to: at };
  });
}

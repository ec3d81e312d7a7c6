import { type SaidLine, type StandInMicrophone, standInMicrophone } from './microphone.ts';

/** How often it says what it heard, in ms. */
const EVERY_MS = 120;

export interface Result {
  readonly isFinal: boolean;
  readonly length: 1;
  readonly 0: { readonly transcript: string; readonly confidence: number };
}

/** Dictation that knows what the stand-in microphone says: word by word while a line is said, settled when it is over. Behind the interface of Web Speech. */
export class StandInRecognition {
  lang = 'en';
  continuous = false;
  interimResults = false;
  onresult: ((e: { resultIndex: number; results: Result[] }) => void) | null = null;
  onerror: ((e: { error: string }) => void) | null = null;
  onend: (() => void) | null = null;
  #clock: ReturnType<typeof setInterval> | undefined;
  #settled = 0;
  #hush = () => {};
  #since = 0;

  start(): void {
    const heard = standInMicrophone();
    this.#since = heard.now;
    this.#settled = 0;
    this.#hush = heard.listen();
    this.#clock = setInterval(() => this.#listen(heard), EVERY_MS);
  }

  stop(): void {
    clearInterval(this.#clock);
    this.#hush();
    this.onend?.();
  }

  abort(): void {
    this.stop();
  }

  #listen(heard: StandInMicrophone): void {
    // A line that was half over when one began to listen is heard from there.
    const lines = heard.lines.filter((l) => l.to > this.#since);
    const over = lines.filter((l) => l.to <= heard.now);
    const results: Result[] = [];
    for (const line of over.slice(this.#settled)) results.push(result(line.words, true));
    this.#settled = Math.max(this.#settled, over.length);
    const open = lines.find((l) => l.from <= heard.now && l.to > heard.now);
    if (open) {
      const words = saidOf(open, heard.now);
      if (words) results.push(result(words, false));
    }
    if (results.length) this.onresult?.({ resultIndex: 0, results });
  }
}

const result = (transcript: string, isFinal: boolean): Result => ({
  isFinal,
  length: 1,
  0: { transcript, confidence: 0.9 },
});

/** The words of a line that are out by now. */
function saidOf({ words, from, to }: SaidLine, now: number): string {
  const all = words.split(' ');
  return all.slice(0, Math.floor((all.length * (now - from)) / (to - from))).join(' ');
}

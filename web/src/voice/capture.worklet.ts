/** What an audio thread has; the browser's own types for pages do not know it. */
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: unknown): void;

/** So many samples go on at once: at 48 kHz every 43 ms, often enough for a meter. */
const PART = 2048;

/**
 * Hands on what the microphone gives, as long as it is told to: straight to the worker, so that neither a stroke nor a slow page is in its way. Told to
 * stop, it hands on what is left and says that this was the end.
 */
class Capture extends AudioWorkletProcessor {
  #to: MessagePort | null = null;
  #on = false;
  #part = new Float32Array(PART);
  #filled = 0;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<{ to?: MessagePort; on?: boolean }>) => {
      if (data.to) this.#to = data.to;
      if (data.on === true) this.#on = true;
      if (data.on === false) {
        this.#on = false;
        this.#handOn(true);
      }
    };
  }

  process([input]: Float32Array[][]): boolean {
    const channels = input ?? [];
    const first = channels[0];
    if (!this.#on || !first) return true;
    for (let i = 0; i < first.length; i++) {
      let sum = 0;
      for (const channel of channels) sum += channel[i]!;
      this.#part[this.#filled++] = sum / channels.length;
      if (this.#filled === PART) this.#handOn(false);
    }
    return true;
  }

  #handOn(end: boolean): void {
    const samples = this.#part.slice(0, this.#filled);
    this.#filled = 0;
    this.#to?.postMessage({ samples, end }, [samples.buffer]);
  }
}

registerProcessor('capture', Capture);

import captureUrl from './capture.worklet.ts?worker&url';
import type { Devices } from './devices.ts';

/** So long after the last word the microphone stays open: whoever says it over, or goes on, does not wait for it. In ms. */
const REST_MS = 60_000;

interface Open {
  readonly stream: MediaStream;
  readonly context: AudioContext;
  readonly capture: AudioWorkletNode;
  readonly source: MediaStreamAudioSourceNode;
}

/** The microphone, opened when it is first needed and kept ready for a while. While it rests its tracks are silenced. */
export class Microphone {
  #open: Promise<Open> | null = null;
  #rest: ReturnType<typeof setTimeout> | undefined;
  readonly #listen: (port: MessagePort, rate: number) => void;
  readonly #lost: (why: 'unplugged' | 'taken') => void;

  /** `listen` gets the port its samples come through; `lost` hears when there is nothing more to hear. */
  constructor(listen: (port: MessagePort, rate: number) => void, lost: (why: 'unplugged' | 'taken') => void) {
    this.#listen = listen;
    this.#lost = lost;
  }

  /** Begins to listen. The first time the browser may ask. Throws what the browser says. */
  async on(from: Devices): Promise<void> {
    clearTimeout(this.#rest);
    this.#open ??= this.#begin(from);
    try {
      const { stream, context, capture } = await this.#open;
      for (const track of stream.getTracks()) track.enabled = true;
      if (context.state === 'suspended') await context.resume();
      capture.port.postMessage({ on: true });
    } catch (error) {
      this.close();
      throw error;
    }
  }

  /** Listens no more, and hands on what is left. */
  off(): void {
    this.#open?.then(({ stream, capture }) => {
      capture.port.postMessage({ on: false });
      for (const track of stream.getTracks()) track.enabled = false;
    });
    clearTimeout(this.#rest);
    this.#rest = setTimeout(() => this.close(), REST_MS);
  }

  close(): void {
    clearTimeout(this.#rest);
    this.#open
      ?.then(({ stream, context }) => {
        for (const track of stream.getTracks()) track.stop();
        context.close();
      })
      .catch(() => {});
    this.#open = null;
  }

  async #begin(from: Devices): Promise<Open> {
    if (!from.media) throw new DOMException('no media devices', 'NotFoundError');
    const stream = await from.media.getUserMedia({
      audio: { channelCount: 1, echoCancellation: false, noiseSuppression: true, autoGainControl: false },
    });
    const context = new AudioContext();
    await context.audioWorklet.addModule(captureUrl);
    const source = context.createMediaStreamSource(stream);
    const capture = new AudioWorkletNode(context, 'capture', { numberOfOutputs: 0 });
    source.connect(capture);
    const { port1, port2 } = new MessageChannel();
    capture.port.postMessage({ to: port1 }, [port1]);
    this.#listen(port2, context.sampleRate);
    for (const track of stream.getAudioTracks()) {
      track.onended = () => {
        this.close();
        this.#lost('unplugged');
      };
      track.onmute = () => this.#lost('taken');
    }
    return { stream, context, capture, source };
  }
}

import type { Devices } from './devices.ts';

/** What a browser's own recorder can make of a camera, the best first. */
const TYPES = ['video/webm;codecs=vp9,opus', 'video/webm;codecs=vp8,opus', 'video/webm', 'video/mp4'];
const PART_MS = 1000;

interface Runs {
  part(n: number, bytes: ArrayBuffer): void;
  runs(ms: number, level: number): void;
  lost(): void;
}

/** A camera and its microphone, recorded by the browser's own recorder a part at a time. */
export class ClipCamera {
  readonly stream: MediaStream;
  readonly type: string;
  readonly #recorder: MediaRecorder;
  #clock: ReturnType<typeof setInterval> | undefined;
  #writing: Promise<void> = Promise.resolve();
  #dropped = false;

  private constructor(stream: MediaStream, type: string) {
    this.stream = stream;
    this.type = type.split(';')[0]!;
    this.#recorder = new MediaRecorder(stream, {
      mimeType: type,
      videoBitsPerSecond: 900_000,
      audioBitsPerSecond: 48_000,
    });
  }

  /** Throws what the browser says. */
  static async open({ media }: Devices): Promise<ClipCamera> {
    const type =
      typeof MediaRecorder === 'undefined' ? undefined : TYPES.find((t) => MediaRecorder.isTypeSupported(t));
    if (!media) throw new DOMException('no media devices', 'NotFoundError');
    if (!type) throw new DOMException('no recorder', 'NotSupportedError');
    const size = { width: { ideal: 640 }, height: { ideal: 480 }, frameRate: { ideal: 24 } };
    return new ClipCamera(
      await media.getUserMedia({ audio: true, video: { ...size, facingMode: 'user' } }),
      type,
    );
  }

  start({ part, runs, lost }: Runs): void {
    let n = 0;
    this.#recorder.ondataavailable = ({ data }) => {
      this.#writing = this.#writing.then(async () => {
        const bytes = await data.arrayBuffer();
        if (!this.#dropped && bytes.byteLength) part(n++, bytes);
      });
    };
    const began = performance.now();
    this.#clock = setInterval(() => runs(performance.now() - began, 0.5), 200);
    for (const track of this.stream.getTracks()) track.onended = lost;
    this.#recorder.start(PART_MS);
  }

  /** Resolves when its last part was handed on. */
  async end(): Promise<void> {
    clearInterval(this.#clock);
    if (this.#recorder.state !== 'inactive') {
      const stopped = new Promise((resolve) =>
        this.#recorder.addEventListener('stop', resolve, { once: true }),
      );
      this.#recorder.stop();
      await stopped;
    }
    await this.#writing;
    this.close();
  }

  drop(): void {
    this.#dropped = true;
    this.end();
  }

  close(): void {
    for (const track of this.stream.getTracks()) {
      track.onended = null;
      track.stop();
    }
  }
}

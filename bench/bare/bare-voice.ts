/** A recording of some minutes: made ready as the app does, and only encoded. Each in a worker of its own kind, as the app has it; gives milliseconds. */
const worker = new Worker(new URL('./bare-voice.worker.ts', import.meta.url), { type: 'module' });

const ask = (what: 'ready' | 'bare', minutes: number) =>
  new Promise<number>((resolve) => {
    worker.addEventListener('message', (e) => resolve(e.data), { once: true });
    worker.postMessage({ what, minutes });
  });

Object.assign(window, { voice: ask });

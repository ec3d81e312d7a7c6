import type { Response } from 'express';

/** Something is sent that often, so that no proxy takes the line for dead. */
const BEAT_MS = 20_000;

/** Answers with a line of server-sent events that stays open until the browser goes; `gone` hears when it does. */
export function openLine(res: Response, gone: () => void = () => {}): void {
  res.set({
    'Content-Type': 'text/event-stream',
    'Cache-Control': 'no-store',
    'X-Accel-Buffering': 'no',
  });
  res.flushHeaders();
  res.write('retry: 2000\n\n');
  const beat = setInterval(() => res.write(': here\n\n'), BEAT_MS);
  res.on('close', () => {
    clearInterval(beat);
    gone();
  });
}

import { writeFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { isMainThread } from 'node:worker_threads';

/** Loaded before a server's own modules: at its end writes, to the file `LOOP_FILE`, how long its thread was not to be had for, in milliseconds: the longest time, and that of 999 of 1,000. */
if (isMainThread) {
  // The processes it starts are not it.
  delete process.env.NODE_OPTIONS;
  const delay = monitorEventLoopDelay({ resolution: 1 });
  delay.enable();
  // Modules that are read at the start are no request.
  setTimeout(() => delay.reset(), 3000).unref();
  process.on('exit', () =>
    writeFileSync(
      process.env.LOOP_FILE,
      JSON.stringify({ most: delay.max / 1e6, usual: delay.percentile(99.9) / 1e6 }),
    ),
  );
}

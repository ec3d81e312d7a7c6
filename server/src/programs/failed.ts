/**
 * A program that opened a file did not get through. The same file will fail in the same way, so it is not tried again; whatever else goes wrong is not
 * the file's fault and is.
 */
export class Failed extends Error {
  readonly reason: 'too-slow' | 'too-big' | 'broken';

  constructor(reason: Failed['reason'], detail: string) {
    super(`${reason}: ${detail}`);
    this.reason = reason;
  }
}

/** The process that was to open a file died, or could not be started: nothing is known of the file. */
export class Died extends Error {}

/** What one file may cost: processor time, and the space it may fill. Time on the clock says little on a machine with much to do. */
export interface Budget {
  readonly cpuMs: number;
  readonly bytes: number;
}

/** A look: most files need far less. What needs more goes into the slow lane, and nobody waits behind it. */
export const QUICK: Budget = { cpuMs: 5000, bytes: 1024 ** 3 };
/** The most that any file gets. */
export const FULL: Budget = { cpuMs: 30_000, bytes: 1024 ** 3 };
/** A process that does nothing at all for as long as this, times its budget, hangs. */
export const CLOCK_FACTOR = 8;

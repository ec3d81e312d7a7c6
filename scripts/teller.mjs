import { spawn } from 'node:child_process';
import { ROOT } from './machine.mjs';

/** Where a run begins to say what failed: Vitest's headings, or the first of Playwright's numbered stories. */
const FAILURES = /^⎯+ (Failed|Unhandled)|^ {2}1\) /m;
/** Colours and moves of a terminal, which no pattern is to trip over. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: the escape is what they begin with.
const TERMINAL = /\u001b\[[0-9;?]*[A-Za-z]/g;
const MOST = 6_000;

/**
 * Runs a program of tests, whose output is seen as it comes. Gives null when all passed, else what it said of its failures (at most 6,000 characters, the first and the last of
 * them), so that it can be said once more where it is seen: at the very end.
 */
export function runTests(command, ...args) {
  return new Promise((resolve, reject) => {
    const running = spawn('npx', [command, ...args], {
      cwd: ROOT,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ...(process.stdout.isTTY ? { FORCE_COLOR: '1' } : {}) },
    });
    let said = '';
    // Vitest says what failed on the one, Playwright on the other.
    for (const stream of ['stdout', 'stderr'])
      running[stream].setEncoding('utf8').on('data', (part) => {
        process[stream].write(part);
        said += part;
      });
    running.on('error', reject);
    running.on('close', (code) => resolve(code === 0 ? null : failuresIn(said)));
  });
}

function failuresIn(said) {
  const plain = said.replace(TERMINAL, '');
  const from = plain.search(FAILURES);
  const failures = (from < 0 ? plain.slice(-MOST) : plain.slice(from)).trim();
  return failures.length <= MOST
    ? failures
    : `${failures.slice(0, MOST / 2)}\n[…]\n${failures.slice(-MOST / 2)}`;
}

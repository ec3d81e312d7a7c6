import { spawn } from 'node:child_process';
import { TaskFailed } from '../opening/opener.ts';

const LIMIT_MS = 20_000;
/** Address space for qpdf; it is a native program, so the limit can be a hard one. */
const LIMIT_BYTES = 1024 ** 3;

export interface Ran {
  /** null: it was stopped for taking too long. */
  readonly code: number | null;
  readonly out: string;
}

/** Debian's qpdf under a limit of time and memory. 0 is fine, 2 an error, 3 warnings (for the checks it was asked). */
export function qpdf(args: readonly string[], limitMs = LIMIT_MS): Promise<Ran> {
  return new Promise((resolve, reject) => {
    const child = spawn('prlimit', [`--as=${LIMIT_BYTES}`, 'qpdf', ...args], {
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    let out = '';
    child.stdout.on('data', (data: Buffer) => {
      if (out.length < 10_000) out += data.toString('latin1');
    });
    let late = false;
    const clock = setTimeout(() => {
      late = true;
      child.kill('SIGKILL');
    }, limitMs);
    child.on('error', reject);
    child.on('close', (code) => {
      clearTimeout(clock);
      resolve({ code: late ? null : code, out });
    });
  });
}

/** A qpdf that writes something, or TaskFailed. Its 3 are warnings: it wrote what was asked for. */
export async function mustRun(args: readonly string[]): Promise<void> {
  const { code } = await qpdf(args);
  if (code !== 0 && code !== 3)
    throw new TaskFailed(code === null ? 'too-slow' : 'broken', `qpdf ended with ${code}`);
}

/** All pages of these files, one behind the other, with what is on them. */
export function joinPdfs(files: readonly string[], out: string): Promise<void> {
  return mustRun(['--empty', '--pages', ...files, '--', out]);
}

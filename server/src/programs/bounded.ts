import { spawn } from 'node:child_process';
import { type Budget, CLOCK_FACTOR } from './failed.ts';

export interface Ran {
  /** null: it was stopped for taking too long. */
  readonly code: number | null;
  readonly out: string;
}

interface Options {
  readonly cwd?: string;
  readonly env?: Record<string, string>;
  /** Put before everything: a program that runs the rest in surroundings of its own. */
  readonly within?: readonly string[];
}

/**
 * Runs a program of Debian's under hard limits of processor time and address space, in a process group of its own that is gone when it ends. The system
 * itself counts the time, so a busy machine makes nothing fail.
 */
export function runBounded(
  program: string,
  args: readonly string[],
  budget: Budget,
  { cwd, env, within = [] }: Options = {},
): Promise<Ran> {
  const cpu = Math.max(1, Math.ceil(budget.cpuMs / 1000));
  const [first, ...rest] = [
    ...within,
    'prlimit',
    `--cpu=${cpu}:${cpu + 1}`,
    `--as=${budget.bytes}`,
    program,
    ...args,
  ] as [string, ...string[]];
  return new Promise((resolve, reject) => {
    const child = spawn(first, rest, {
      stdio: ['ignore', 'pipe', 'ignore'],
      detached: true,
      ...(cwd ? { cwd } : {}),
      ...(env ? { env } : {}),
    });
    let out = '';
    child.stdout.on('data', (data: Buffer) => {
      if (out.length < 10_000) out += data.toString('latin1');
    });
    let hung = false;
    const clock = setTimeout(() => {
      hung = true;
      killGroup(child.pid);
    }, budget.cpuMs * CLOCK_FACTOR);
    child.once('error', (error) => {
      clearTimeout(clock);
      reject(error);
    });
    child.once('close', (code, signal) => {
      clearTimeout(clock);
      // A helper it started may outlive it.
      killGroup(child.pid);
      const late = hung || signal === 'SIGXCPU' || signal === 'SIGKILL' || code === 128 + 24 || code === 137;
      resolve({ code: late ? null : (code ?? 1), out });
    });
  });
}

function killGroup(pid: number | undefined): void {
  if (!pid) return;
  try {
    process.kill(-pid, 'SIGKILL');
  } catch {
    // Gone already.
  }
}

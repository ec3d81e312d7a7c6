import { type ChildProcess, fork } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { type Budget, CLOCK_FACTOR, Died, Failed, FULL } from '../programs/failed.ts';
import type { Answer, Task } from './task.ts';

/** A process grows a little with every file; after this many it is replaced. */
const FILES_A_PROCESS = 100;
const MOST_IDLE = 2;
/** How often it is looked what a process has cost so far. */
const LOOK_MS = 100;
/** So long a process may take to start, before it counts as hanging. */
const START_MS = 60_000;

const isSource = import.meta.url.endsWith('.ts');
const CHILD = fileURLToPath(new URL(isSource ? './child.ts' : './child.js', import.meta.url));

/**
 * Opens files in processes of their own: an idle one is used again, a slow, big or dead one is thrown away. Whatever happens to such a process, this
 * one goes on.
 */
export class Opener {
  readonly #idle: ChildProcess[] = [];
  readonly #busy = new Set<ChildProcess>();
  readonly #used = new WeakMap<ChildProcess, number>();
  /** Those that have started: what starting costs is not the file's. */
  readonly #ready = new WeakSet<ChildProcess>();
  readonly #program: string;
  #closed = false;

  readonly #env: Readonly<Record<string, string>>;

  /** `env`: what those processes are told beside their path. */
  constructor(program: string = CHILD, env: Readonly<Record<string, string>> = {}) {
    this.#program = program;
    this.#env = env;
  }

  /**
   * Runs one task. Throws Failed when it costs more than its budget or the file breaks, Died when the process did and nothing is known of the file.
   */
  async run(
    task: Task,
    budget: Budget = FULL,
    onProgress: (done: number, total: number) => void = () => {},
  ): Promise<unknown> {
    if (this.#closed) throw new Died('stopping');
    const child = this.#take();
    this.#busy.add(child);
    let fine = false;
    try {
      const result = await this.#ask(child, task, budget, onProgress);
      fine = true;
      return result;
    } finally {
      this.#busy.delete(child);
      const used = (this.#used.get(child) ?? 0) + 1;
      this.#used.set(child, used);
      if (fine && child.connected && !this.#closed && used < FILES_A_PROCESS && this.#idle.length < MOST_IDLE)
        this.#idle.push(child);
      else child.kill('SIGKILL');
    }
  }

  /** The processes at work now, for tests that kill them. */
  get busy(): readonly ChildProcess[] {
    return [...this.#busy];
  }

  close(): void {
    this.#closed = true;
    for (const child of [...this.#idle, ...this.#busy]) child.kill('SIGKILL');
    this.#idle.length = 0;
  }

  #take(): ChildProcess {
    for (let child = this.#idle.pop(); child; child = this.#idle.pop()) if (child.connected) return child;
    return this.#start();
  }

  #start(): ChildProcess {
    const child = fork(this.#program, {
      execArgv: [
        '--max-old-space-size=900',
        ...(isSource ? ['--import', 'tsx', '--conditions=jotmark-source'] : []),
      ],
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      // Uploaded bytes are opened there: it gets none of our secrets.
      env: { PATH: process.env.PATH ?? '', NODE_NO_WARNINGS: '1', ...this.#env },
    });
    // One that cannot be started, or is written to after its end, says so here; nobody listening would end the server.
    child.on('error', () => child.kill('SIGKILL'));
    child.once('message', () => this.#ready.add(child));
    return child;
  }

  #ask(
    child: ChildProcess,
    task: Task,
    budget: Budget,
    onProgress: (done: number, total: number) => void,
  ): Promise<unknown> {
    return new Promise((resolve, reject) => {
      let before: number | null = null;
      const end = (settle: () => void) => {
        clearTimeout(clock);
        clearInterval(scale);
        child.off('message', heard);
        child.off('exit', died);
        child.off('error', died);
        settle();
      };
      const fail = (reason: Failed['reason'], detail: string) =>
        end(() => reject(new Failed(reason, detail)));
      const died = (how: unknown) =>
        end(() => reject(new Died(`the process that opens files ended: ${how}`)));
      const heard = (answer: Answer) => {
        if (answer.kind === 'ready') hangs(0);
        else if (answer.kind === 'progress') onProgress(answer.done, answer.total);
        else if (answer.kind === 'done') end(() => resolve(answer.result));
        else fail(answer.reason, answer.error);
      };
      // Its processor time counts, not the clock: on a busy machine everything takes long. Only one that hangs ends by the clock.
      let clock: NodeJS.Timeout | undefined;
      const hangs = (startMs: number) => {
        clearTimeout(clock);
        const ms = startMs + budget.cpuMs * CLOCK_FACTOR;
        clock = setTimeout(() => fail('too-slow', `hangs for ${ms} ms`), ms);
      };
      hangs(this.#ready.has(child) ? 0 : START_MS);
      const scale = setInterval(async () => {
        const { cpuMs, bytes } = await costOf(child.pid);
        if (this.#ready.has(child)) before ??= cpuMs;
        if (before !== null && cpuMs - before > budget.cpuMs)
          fail('too-slow', `over ${budget.cpuMs} ms of processor time`);
        else if (bytes > budget.bytes) fail('too-big', 'over the memory limit');
      }, LOOK_MS);
      child.on('message', heard);
      child.once('exit', died);
      child.once('error', died);
      child.send(task, (error) => error && died(error.message));
    });
  }
}

/** Linux counts processor time in hundredths of a second. */
const TICK_MS = 10;

/** Processor time of a process and of what it started and waited for, and the memory it holds. */
async function costOf(pid: number | undefined): Promise<{ cpuMs: number; bytes: number }> {
  const [stat, memory] = await Promise.all([
    readFile(`/proc/${pid}/stat`, 'ascii').catch(() => ''),
    readFile(`/proc/${pid}/statm`, 'ascii').catch(() => ''),
  ]);
  // The name in the second field may have spaces; fields are counted behind it (proc(5)).
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
  const ticks = fields.slice(11, 15).reduce((sum, n) => sum + (Number(n) || 0), 0);
  return { cpuMs: ticks * TICK_MS, bytes: Number(memory.split(' ')[1] ?? 0) * 4096 };
}

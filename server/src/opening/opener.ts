import { type ChildProcess, fork } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import type { Answer, Task } from './task.ts';

/** 20 s and 1 GB a file, as long as a teacher would wait and a small machine can spare. */
export const TASK_LIMITS = { ms: 20_000, residentBytes: 1024 ** 3 } as const;

/** A process grows a little with every file; after this many it is replaced. */
const FILES_A_PROCESS = 100;

export class TaskFailed extends Error {
  readonly reason: 'too-slow' | 'too-big' | 'broken';

  constructor(reason: TaskFailed['reason'], detail: string) {
    super(`${reason}: ${detail}`);
    this.reason = reason;
  }
}

const isSource = import.meta.url.endsWith('.ts');
const CHILD = fileURLToPath(new URL(isSource ? './child.ts' : './child.js', import.meta.url));

/** Opens files in processes of their own: an idle one is used again, a slow, big or dead one is thrown away. */
export class Opener {
  readonly #idle: ChildProcess[] = [];
  readonly #busy = new Set<ChildProcess>();
  readonly #used = new WeakMap<ChildProcess, number>();
  readonly #limits: { ms: number; residentBytes: number };
  #closed = false;

  constructor(limits: { ms: number; residentBytes: number } = TASK_LIMITS) {
    this.#limits = limits;
  }

  /** Runs one task; throws TaskFailed when it is over a limit, or when the process or the file breaks. */
  async run(task: Task, onProgress: (done: number, total: number) => void = () => {}): Promise<unknown> {
    if (this.#closed) throw new TaskFailed('broken', 'stopping');
    const child = this.#take();
    this.#busy.add(child);
    let fine = false;
    try {
      const result = await this.#ask(child, task, onProgress);
      fine = true;
      return result;
    } finally {
      this.#busy.delete(child);
      const used = (this.#used.get(child) ?? 0) + 1;
      this.#used.set(child, used);
      if (fine && !this.#closed && used < FILES_A_PROCESS && this.#idle.length < 2) this.#idle.push(child);
      else child.kill('SIGKILL');
    }
  }

  /** Has a process ready for a task that comes soon: it starts while something else takes its time. */
  warm(): void {
    if (!this.#closed && this.#idle.length === 0) this.#idle.push(this.#start());
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
    return fork(CHILD, {
      execArgv: [
        '--max-old-space-size=900',
        ...(isSource ? ['--import', 'tsx', '--conditions=jotmark-source'] : []),
      ],
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      // Uploaded bytes are opened there: it gets none of our secrets.
      env: { PATH: process.env.PATH ?? '', NODE_NO_WARNINGS: '1' },
    });
  }

  #ask(child: ChildProcess, task: Task, onProgress: (done: number, total: number) => void): Promise<unknown> {
    return new Promise((resolve, reject) => {
      const end = (settle: () => void) => {
        clearTimeout(clock);
        clearInterval(scale);
        child.removeAllListeners('message');
        child.removeAllListeners('exit');
        settle();
      };
      const fail = (reason: TaskFailed['reason'], detail: string) =>
        end(() => reject(new TaskFailed(reason, detail)));
      const clock = setTimeout(() => fail('too-slow', `over ${this.#limits.ms} ms`), this.#limits.ms);
      const scale = setInterval(async () => {
        if ((await residentBytes(child.pid)) > this.#limits.residentBytes)
          fail('too-big', 'over the memory limit');
      }, 200);
      child.on('exit', (code, signal) => fail('broken', `ended with ${code ?? signal}`));
      child.on('message', (answer: Answer) => {
        if (answer.kind === 'progress') onProgress(answer.done, answer.total);
        else if (answer.kind === 'done') end(() => resolve(answer.result));
        else fail('broken', answer.error);
      });
      child.send(task);
    });
  }
}

async function residentBytes(pid: number | undefined): Promise<number> {
  const stat = await readFile(`/proc/${pid}/statm`, 'ascii').catch(() => '');
  return Number(stat.split(' ')[1] ?? 0) * 4096;
}

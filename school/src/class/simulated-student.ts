import { randomBytes } from 'node:crypto';
import {
  type ChangeId,
  type CopyChange,
  type CopyId,
  type MessageId,
  makeId,
  type Question,
  type Work,
  type WorkRow,
} from '@jotmark/core';

/** As often a browser asks what is new, in milliseconds: that it is here is seen by this. */
const ASKED_EVERY = 5000;

const id = <T extends string>() => makeId(Date.now(), randomBytes(10)) as T;

export interface Plan {
  readonly login: string;
  readonly password: string;
  /** What to write into each question; those without are left open. */
  answerTo(question: Question, index: number): string;
  /** Milliseconds between two changes, and letters in each. */
  readonly pause: number;
  readonly letters: number;
  /** What to answer when the teacher says something; null: nothing. */
  readonly reply: string | null;
}

/**
 * A student at work, through the public HTTP interface like any browser: signs in, opens the copy, is here as long as
 * its line is open, types a few letters at a time, answers the teacher. Keeps what it could not send and sends it again.
 */
export class SimulatedStudent {
  readonly #address: string;
  readonly #plan: Plan;
  #cookie = '';
  #token = '';
  #stop = new AbortController();
  #replied = false;
  /** Changes that were committed, and how long each took, in milliseconds. */
  readonly sent: number[] = [];

  constructor(address: string, plan: Plan) {
    this.#address = address;
    this.#plan = plan;
  }

  async signIn(): Promise<void> {
    const reply = await this.#ask('POST', '/api/sign-in', {
      login: this.#plan.login,
      password: this.#plan.password,
    });
    this.#token = (reply as { token: string }).token;
  }

  /** The student's copy of the work with this title, while it can be written on; null when there is none. */
  async copyCalled(title: string): Promise<CopyId | null> {
    const list = (await this.#ask('GET', '/api/work')) as WorkRow[];
    return list.find((r) => r.assignment.title === title && r.place === 'with-student')?.copyId ?? null;
  }

  /** Works through the copy until all is written, `stop` is called, or so many changes were sent. */
  async takeUp(copyId: CopyId, most = Number.POSITIVE_INFINITY): Promise<void> {
    const opened = await this.#open(copyId);
    if (!opened) return;
    const { sheets, state } = opened;
    this.#listen(copyId);
    this.#askNow(copyId, state.seq);
    const bases = new Map(state.answers.map((a) => [a.question, a]));
    const questions = sheets.flatMap((s) => s.questions);
    for (const [i, question] of questions.entries()) {
      const whole = this.#plan.answerTo(question, i);
      let now = bases.get(question.id)?.value ?? '';
      let base: ChangeId | null = bases.get(question.id)?.version ?? null;
      while (now.length < whole.length) {
        if (this.#stop.signal.aborted || this.sent.length >= most) return;
        const value = whole.slice(0, now.length + this.#plan.letters);
        const change: CopyChange = {
          id: id<ChangeId>(),
          base,
          type: 'answer',
          question: question.id,
          value,
          was: now,
        };
        await this.#send(copyId, change);
        now = value;
        base = change.id;
        await this.#rest(this.#plan.pause);
      }
    }
  }

  /** Goes away; the line closes as when a lid is shut. */
  stop(): void {
    this.#stop.abort();
  }

  /** Asked for until it is there; null when the student goes away before. */
  async #open(copyId: CopyId): Promise<Work | null> {
    while (!this.#stop.signal.aborted) {
      try {
        return (await this.#ask('GET', `/api/work/${copyId}`)) as Work;
      } catch {
        await this.#rest(300);
      }
    }
    return null;
  }

  /** Sent until it is committed: the same change twice counts once. */
  async #send(copyId: CopyId, change: CopyChange): Promise<void> {
    const began = performance.now();
    while (!this.#stop.signal.aborted) {
      try {
        await this.#ask('POST', `/api/work/${copyId}/changes`, { changes: [change] });
        this.sent.push(performance.now() - began);
        return;
      } catch {
        await this.#rest(300);
      }
    }
  }

  async #listen(copyId: CopyId): Promise<void> {
    while (!this.#stop.signal.aborted) {
      try {
        const line = await fetch(`${this.#address}/api/work/${copyId}/live`, {
          headers: { cookie: this.#cookie },
          signal: this.#stop.signal,
        });
        for await (const part of line.body!.pipeThrough(new TextDecoderStream()))
          if (part.includes('"word"')) await this.#answerBack(copyId);
      } catch {
        // The line broke or the lid was shut.
      }
      await this.#rest(500);
    }
  }

  async #askNow(copyId: CopyId, seq: number): Promise<void> {
    while (!this.#stop.signal.aborted) {
      await this.#rest(ASKED_EVERY);
      await this.#ask('GET', `/api/work/${copyId}/changes?after=${seq + this.sent.length}`).catch(() => {});
    }
  }

  async #answerBack(copyId: CopyId): Promise<void> {
    if (this.#replied || this.#plan.reply === null) return;
    const talk = (await this.#ask('GET', `/api/copies/${copyId}/messages`)) as {
      messages: { mine: boolean }[];
    };
    if (talk.messages.at(-1)?.mine !== false) return;
    this.#replied = true;
    await this.#ask('POST', `/api/copies/${copyId}/messages`, {
      id: id<MessageId>(),
      words: this.#plan.reply,
    });
  }

  #rest(ms: number): Promise<void> {
    return new Promise((resolve) => {
      const clock = setTimeout(resolve, ms);
      this.#stop.signal.addEventListener('abort', () => {
        clearTimeout(clock);
        resolve();
      });
    });
  }

  async #ask(method: string, path: string, body?: unknown): Promise<unknown> {
    const reply = await fetch(this.#address + path, {
      method,
      headers: {
        ...(this.#cookie ? { cookie: this.#cookie } : {}),
        ...(this.#token ? { 'x-jotmark-token': this.#token } : {}),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const set = reply.headers.get('set-cookie');
    if (set) this.#cookie = set.split(';')[0]!;
    if (!reply.ok) throw new Error(`${path}: ${reply.status}`);
    return reply.json();
  }
}

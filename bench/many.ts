import { execFile } from 'node:child_process';
import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { connect, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { DocumentId } from '@jotmark/core';
import { Chance, fillIn, findingYourWay } from '@jotmark/school';
import {
  addPerson,
  documentState,
  FULL,
  insert,
  MembershipTable,
  Opener,
  type Running,
  setAssignment,
} from '@jotmark/server';
import { atMost, type Figure, timed, toLookAt } from './figures.ts';
import { ownProcess } from './own-process.ts';
import { benchClass, PASSWORD } from './school.ts';

const STUDENTS = 30;
const WORKERS = 2;
const LINES = 2000;
/** Ten times a second. */
const LINES_AT_ONCE = 50;
const ASK = fileURLToPath(new URL('ask-health.mjs', import.meta.url));
const LOOP = fileURLToPath(new URL('loop-delay.mjs', import.meta.url));

/** Many at once: a class that hands in at the same moment, and a server that is asked for what it can bear least. */
export async function manyFigures(running: Running): Promise<Figure[]> {
  return [await atOnceFigure(running), ...(await healthFigures(running))];
}

/** Thirty files sent at once, until the last one's pages can be opened, against the same files opened one after the other by as many workers. */
async function atOnceFigure(running: Running): Promise<Figure> {
  const { house } = running;
  const { classId } = await benchClass(running, 1, 0);
  const folder = await mkdtemp(join(tmpdir(), 'jotmark-bench-'));
  const sheet = await findingYourWay();
  const files: string[] = [];
  const people: Awaited<ReturnType<typeof addPerson>>[] = [];
  for (let i = 0; i < STUDENTS; i++) {
    const path = join(folder, `${i}.pdf`);
    await writeFile(path, (await fillIn(new Chance(i + 1), sheet, `P${i}`, 0.6)).bytes);
    files.push(path);
    const person = await addPerson(house, {
      role: 'student',
      login: `many-${i}-${Date.now()}`,
      given: `P${i}`,
      family: 'Bench',
      password: PASSWORD,
    });
    await insert(house.db.manager, MembershipTable, {
      classId,
      personId: person.id,
      role: 'student',
      leftAt: null,
    });
    people.push(person);
  }
  const bare = async () => {
    const opener = new Opener();
    const lane = async (n: number) => {
      for (let i = n; i < files.length; i += WORKERS) {
        const file = files[i]!;
        await opener.run({ op: 'judge', file, name: 'work.pdf', mended: `${file}.mended`, budget: FULL });
        await opener.run({
          op: 'read',
          file,
          out: `${file}.out`,
          picture: `${file}.jpg`,
          text: `${file}.json`,
          shapes: null,
        });
      }
    };
    const ms = await timed(() => Promise.all(Array.from({ length: WORKERS }, (_, n) => lane(n))));
    opener.close();
    return ms;
  };
  // This process works on the same queue with one.
  const { address, stop } = await ownProcess(running, { JOTMARK_WORKERS: String(WORKERS - 1) });
  const students = await Promise.all(people.map((p) => signIn(address, p.login)));
  const ours = async () => {
    const set = await setAssignment(house, {
      classId,
      title: 'At once',
      instructions: '',
      dueAt: null,
      most: null,
    });
    return timed(async () => {
      const sent = await Promise.all(
        students.map((s, i) => s.send(`/api/work/${set.copies.get(people[i]!.id)}/files`, files[i]!)),
      );
      const documents = await Promise.all(sent.map((jobId, i) => students[i]!.arrived(jobId)));
      for (const id of documents)
        for (;;) {
          const { reading } = await documentState(house.db.manager, id);
          if (reading.state === 'failed') throw new Error('not read');
          if (reading.state === 'done') break;
          await new Promise((r) => setTimeout(r, 20));
        }
    });
  };
  await bare();
  await ours();
  const [a, b] = [await ours(), await bare()];
  await stop();
  return {
    what: `${STUDENTS} files handed in at once, until the last one's pages can be opened`,
    ours: a,
    baseline: b,
    against: `their bare work on ${WORKERS} workers`,
    limit: 1.2,
  };
}

interface SignedIn {
  readonly headers: Record<string, string>;
  send(path: string, file: string): Promise<string>;
  arrived(jobId: string): Promise<DocumentId>;
}

async function signIn(address: string, login: string): Promise<SignedIn> {
  const reply = await fetch(`${address}/api/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password: PASSWORD }),
  });
  const { token } = (await reply.json()) as { token: string };
  const headers = {
    cookie: reply.headers.get('set-cookie')!.split(';')[0]!,
    'x-jotmark-token': token,
  };
  return {
    headers,
    send: async (path, file) => {
      const body = new FormData();
      body.append('file', new Blob([new Uint8Array(await readFile(file))]), 'work.pdf');
      const sent = await fetch(address + path, { method: 'POST', headers, body });
      if (!sent.ok) throw new Error(`refused: ${await sent.text()}`);
      return ((await sent.json()) as { jobId: string }).jobId;
    },
    arrived: async (jobId) => {
      for (;;) {
        const { progress, outcome } = (await (
          await fetch(`${address}/api/jobs/${jobId}`, { headers })
        ).json()) as {
          progress: { state: string };
          outcome: { document: { id: DocumentId } } | null;
        };
        if (progress.state === 'failed') throw new Error('refused');
        if (outcome) return outcome.document.id;
        await new Promise((r) => setTimeout(r, 200));
      }
    },
  };
}

/** A line that is held open: one that listens to news, or a body that is never sent to its end. */
function hold(address: string, headers: Record<string, string>, listens: boolean): Socket {
  const { hostname, port } = new URL(address);
  const [method, path] = listens ? ['GET', '/api/news/live'] : ['POST', '/api/worksheets'];
  const socket = connect(Number(port), hostname, () =>
    socket.write(
      `${method} ${path} HTTP/1.1\r\nHost: ${hostname}:${port}\r\n${Object.entries(headers)
        .map(([name, value]) => `${name}: ${value}\r\n`)
        .join('')}${listens ? '' : 'Content-Type: application/json\r\nContent-Length: 900000\r\n'}\r\n`,
    ),
  );
  // Those above what one person may have are refused, and closed.
  socket.on('error', () => {});
  socket.resume();
  return socket;
}

/** How long a server takes to say that it is well, while the largest files, the worst bodies, bodies that never end and two thousand lines come in: of a hundred answers the slowest but one. And how much memory it took. */
async function healthFigures(running: Running): Promise<Figure[]> {
  const { login, copies, assignmentId } = await benchClass(running, 1, 0);
  const loopFile = join(await mkdtemp(join(tmpdir(), 'jotmark-bench-')), 'loop.json');
  const { address, pid, stop } = await ownProcess(running, {
    JOTMARK_WORKERS: '1',
    NODE_OPTIONS: `--import ${LOOP}`,
    LOOP_FILE: loopFile,
  });
  const teacher = await signIn(address, login);
  const changes = `/api/hand-ins/${copies[0]!.handInId}/changes`;
  const json = { ...teacher.headers, 'content-type': 'application/json' };
  const post = (path: string, body: BodyInit, headers: Record<string, string>) =>
    fetch(address + path, { method: 'POST', headers, body }).then(
      (r) => r.arrayBuffer(),
      () => {},
    );
  const nested = `${'['.repeat(7_000_000)}${']'.repeat(7_000_000)}`;
  const strokes = JSON.stringify({
    changes: Array(100).fill({ type: 'put', mark: { v: 2, kind: 'ink', points: Array(4000).fill('x') } }),
  });
  const thousands = JSON.stringify({ changes: Array(20_000).fill({ type: 'put' }) });
  const words = `/api/assignments/${assignmentId}`;
  const long = JSON.stringify({
    words: { instructions: { type: 'doc', content: Array(40_000).fill({ type: 'paragraph' }) } },
  });
  const large = Buffer.alloc(45 * 1024 * 1024, 'A line that is no PDF at all, over and over. ');
  const upload = () => {
    const form = new FormData();
    form.append('file', new Blob([large]), 'large.txt');
    return fetch(`${address}/api/worksheets`, { method: 'POST', headers: teacher.headers, body: form }).then(
      (r) => r.arrayBuffer(),
      () => {},
    );
  };
  let over = false;
  const keepAt = async (work: () => Promise<unknown>) => {
    while (!over) await work();
  };
  const loads = [
    keepAt(() => post(changes, nested, { 'content-type': 'application/json' })),
    keepAt(() => post(changes, nested.slice(0, 1_900_000), json)),
    keepAt(() => post(changes, strokes.slice(0, 1_900_000), json)),
    keepAt(() => post(changes, strokes, json)),
    keepAt(upload),
    keepAt(() => post(changes, thousands, json)),
    keepAt(() => post(words, long, json)),
  ];
  const lines: Socket[] = [];
  const opening = keepAt(async () => {
    for (let i = 0; i < LINES_AT_ONCE && lines.length < LINES; i++)
      lines.push(hold(address, teacher.headers, i % 2 === 0));
    await new Promise((r) => setTimeout(r, 100));
  });
  const { stdout } = await promisify(execFile)('node', [ASK, address, '200']);
  const took = JSON.parse(stdout) as number[];
  over = true;
  for (const line of lines) line.destroy();
  await Promise.all([...loads, opening]);
  const most = Number(/VmHWM:\s+(\d+)/.exec(await readFile(`/proc/${pid}/status`, 'ascii'))![1]) / 1024;
  await stop();
  const loop = JSON.parse(await readFile(loopFile, 'utf8')) as { most: number; usual: number };
  took.sort((a, b) => a - b);
  const what = 'while 45 MB files, the worst bodies and 2,000 lines come in';
  return [
    atMost(`health, 99 of 100 answers, ${what}`, took[Math.floor(took.length * 0.99)]!, 200),
    atMost(`memory of the server, ${what}`, most, 400, 'MB'),
    toLookAt(`longest time its thread was not to be had, ${what}`, loop.most),
    toLookAt(`the same, 999 of 1,000 times, ${what}`, loop.usual),
  ];
}

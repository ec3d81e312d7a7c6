import { Agent, request } from 'node:http';
import type { ChangeId, CopyId } from '@jotmark/core';
import { addClass, addPerson, addWorksheet, type Running, setAssignment } from '@jotmark/server';
import { atMost, type Figure } from './figures.ts';
import { ownProcess } from './own-process.ts';
import { benchClass, benchSheet, id, PASSWORD, stroke } from './school.ts';

const STUDENTS = 300;
const SAVES_EVERY_MS = 2000;
const TEACHERS = 10;
const MARKS_EVERY_MS = 500;
const SECONDS = 30;
/** Before that, code that has just been started is compiled while it runs: whoever starts a server at noon sees it for so long, and nobody after. */
const WARM_SECONDS = 10;
/** Signing in costs a tenth of a second of a core, on purpose: so many at a time. */
const AT_A_TIME = 4;

const agent = new Agent({ keepAlive: true, maxSockets: Number.POSITIVE_INFINITY });

interface Caller {
  readonly address: string;
  readonly cookie: string;
  readonly token: string;
}

/** One request over lines that are kept open, as browsers and proxies keep them. */
function send(
  { address, cookie, token }: Caller,
  method: 'GET' | 'POST',
  path: string,
  body?: unknown,
): Promise<{ status: number; text: string; cookies: readonly string[] }> {
  return new Promise((resolve, reject) => {
    const bytes = body === undefined ? null : JSON.stringify(body);
    const asked = request(
      address + path,
      {
        agent,
        method,
        headers: {
          ...(cookie && { cookie }),
          ...(token && { 'x-jotmark-token': token }),
          ...(bytes && { 'content-type': 'application/json', 'content-length': Buffer.byteLength(bytes) }),
        },
      },
      (reply) => {
        let text = '';
        reply.setEncoding('utf8');
        reply.on('data', (part: string) => {
          text += part;
        });
        reply.on('end', () =>
          resolve({ status: reply.statusCode!, text, cookies: reply.headers['set-cookie'] ?? [] }),
        );
        reply.on('error', reject);
      },
    );
    asked.on('error', reject);
    asked.end(bytes ?? undefined);
  });
}

async function signIn(address: string, login: string): Promise<Caller> {
  const reply = await send({ address, cookie: '', token: '' }, 'POST', '/api/sign-in', {
    login,
    password: PASSWORD,
  });
  const { token } = JSON.parse(reply.text) as { token: string };
  return { address, cookie: reply.cookies.map((c) => c.split(';')[0]).join('; '), token };
}

/** A line that stays open, as each window has one; gives how to close it. */
function listen({ address, cookie }: Caller, path: string): () => void {
  const asked = request(address + path, { headers: { cookie } }, (reply) => reply.resume());
  asked.on('error', () => {});
  asked.end();
  return () => asked.destroy();
}

/** A whole school at once: 300 students who write, 10 teachers who mark, and a line of hints to each student. */
export async function loadFigures(running: Running): Promise<Figure[]> {
  const { house } = running;
  const marked = await benchClass(running, TEACHERS, 0);
  const [teacher] = await house.db.query('SELECT * FROM person WHERE login = ?', [marked.login]);
  const { sheet, questions } = await benchSheet(running, teacher, [[60, 60, 400, 200]]);
  const question = questions[0]!.id;
  const students: { login: string; copyId: CopyId }[] = [];
  for (let k = 0; k < STUDENTS / 30; k++) {
    const people = await Promise.all(
      Array.from({ length: 30 }, (_, i) =>
        addPerson(house, {
          role: 'student',
          login: `load-${id()}`,
          given: `L${i}`,
          family: 'Bench',
          password: PASSWORD,
        }),
      ),
    );
    const classId = await addClass(house, {
      name: `L${k}`,
      unit: '',
      teachers: [teacher.id],
      students: people.map((p) => p.id),
    });
    const { copies } = await setAssignment(
      house,
      { classId, title: 'Load', instructions: '', dueAt: null, most: null },
      (a) => addWorksheet(house, a, sheet),
    );
    for (const p of people) students.push({ login: p.login, copyId: copies.get(p.id)! });
  }
  const server = await ownProcess(running);
  const { address } = server;
  const callers: Caller[] = [];
  for (let i = 0; i < students.length; i += AT_A_TIME)
    callers.push(
      ...(await Promise.all(students.slice(i, i + AT_A_TIME).map((s) => signIn(address, s.login)))),
    );
  const desk = await signIn(address, marked.login);
  const lines = students.map((s, i) => listen(callers[i]!, `/api/work/${s.copyId}/live`));

  const took: number[] = [];
  let failed = 0;
  const counted = performance.now() + WARM_SECONDS * 1000;
  const until = counted + SECONDS * 1000;
  let slowest = 0;
  const every = async (ms: number, what: () => Promise<boolean>) => {
    await new Promise((r) => setTimeout(r, Math.random() * ms));
    while (performance.now() < until) {
      const from = performance.now();
      const good = await what().catch(() => false);
      const now = performance.now();
      if (from >= counted) took.push(now - from);
      else slowest = Math.max(slowest, now - from);
      if (!good) failed++;
      await new Promise((r) => setTimeout(r, Math.max(0, ms - (now - from))));
    }
  };
  const isApplied = ({ status, text }: { status: number; text: string }) =>
    status === 200 && text.includes('"applied"');
  const writing = students.map(({ copyId }, i) => {
    let base: ChangeId | null = null;
    let was = '';
    return every(SAVES_EVERY_MS, async () => {
      const change = { id: id<ChangeId>(), base, type: 'answer', question, value: `${was}and on `, was };
      const reply = await send(callers[i]!, 'POST', `/api/work/${copyId}/changes`, { changes: [change] });
      base = change.id;
      was = change.value;
      return isApplied(reply);
    });
  });
  let n = 0;
  const marking = marked.copies.map(({ handInId, documentId }) =>
    every(MARKS_EVERY_MS, async () =>
      isApplied(
        await send(desk, 'POST', `/api/hand-ins/${handInId}/changes`, {
          changes: [
            { id: id<ChangeId>(), base: null, type: 'put', was: null, mark: stroke(documentId, n++) },
          ],
        }),
      ),
    ),
  );
  await Promise.all([...writing, ...marking]);
  for (const close of lines) close();
  agent.destroy();
  await server.stop();
  const sorted = took.toSorted((a, b) => a - b);
  const at = (share: number) => sorted[Math.floor(sorted.length * share)]!;
  console.log(
    `${took.length} saves in ${SECONDS} s: median ${at(0.5).toFixed(0)} ms, p95 ${at(0.95).toFixed(0)} ms, p99 ${at(0.99).toFixed(0)} ms; in the ${WARM_SECONDS} s before, at most ${slowest.toFixed(0)} ms`,
  );
  const who = `${STUDENTS} students and ${TEACHERS} teachers at once`;
  return [
    atMost(`a save while ${who} save, p95`, at(0.95), 200),
    atMost(`saves that failed while ${who} saved`, failed, 0, ''),
  ];
}

import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn, handInFor } from '../testing/handed-in.ts';
import { Caller, readingDone, testServer } from '../testing/house.ts';
import { done, note, put } from '../testing/marks.ts';
import { ownServer } from '../testing/own-server.ts';
import { namesIn } from '../testing/zips.ts';

let running: Running;
let worker: ChildProcess;
beforeAll(async () => {
  running = await testServer({ workers: 0 });
  worker = (await ownServer(running, { workers: 1 })).child;
});
afterAll(async () => {
  worker.kill('SIGKILL');
  await running.stop();
});

test('what was being taken out when its server was killed is whole when another takes it up', async () => {
  const students = Array.from({ length: 8 }, (_, n) => `student${n}`);
  const h = await handedIn(running, students);
  await h.send(put(note(h.documentId, 'Give the unit.')), done(true));
  await readingDone(h.teacherCaller, h.documentId);
  for (const n of students.keys()) {
    if (n === 0) continue;
    const student = await new Caller(running.address).signIn(h.students[n]!.login);
    const { documentId } = await handInFor(student, h.teacherCaller, h.copyOf(n));
    await readingDone(h.teacherCaller, documentId);
  }
  const { body } = await h.teacherCaller.call('takeOut', {
    body: { order: { what: 'class', classId: h.classId } },
  });
  const params = { jobId: body.jobId };
  let progress = { done: 0, total: 0 };
  while (progress.done === 0) progress = (await h.teacherCaller.call('job', { params })).body.progress;
  expect(progress.done).toBeLessThan(progress.total);
  worker.kill('SIGKILL');
  await once(worker, 'exit');
  // Its claim would run out by itself after half a minute.
  await running.house.db.query('UPDATE job SET claimed_until = created_at WHERE id = ?', [params.jobId]);

  worker = (await ownServer(running, { workers: 1 })).child;
  const outcome = await h.teacherCaller.outcome(params.jobId);
  expect(outcome.status).toBe(200);
  const file = await h.teacherCaller.raw('GET', `/api/jobs/${params.jobId}/file`);
  const path = join(mkdtempSync(join(tmpdir(), 'jotmark-out-')), 'class.zip');
  writeFileSync(path, new Uint8Array(await file.arrayBuffer()));
  const names = namesIn(path);
  for (const { given } of h.students)
    expect(names.filter((n) => n.includes(given) && n.endsWith('.pdf')).length).toBeGreaterThan(0);
  const [job] = await running.house.db.query('SELECT attempts FROM job WHERE id = ?', [params.jobId]);
  expect(job.attempts).toBe(2);
});

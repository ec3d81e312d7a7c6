import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { newId } from '../house.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { testServer } from '../testing/house.ts';
import { plainPdf } from '../testing/pdfs.ts';
import { Opener } from '../opening/opener.ts';
import { claimJob, failJob, finishJob, MAX_ATTEMPTS, orderJob, reportProgress, retryJob } from './queue.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({ workers: 0 }, { now: () => clock });
});
afterAll(() => running.stop());

const order = () => orderJob(running.house, running.house.db.manager, 'read-document', newId(running.house));
const state = async (id: string) =>
  (await running.house.db.query('SELECT state, attempts, done, total, error FROM job WHERE id = ?', [id]))[0];

describe('the job table', () => {
  test('gives each job to one worker, the oldest first, however many ask', async () => {
    const first = await order();
    clock += 5;
    const second = await order();
    const claims = await Promise.all([
      claimJob(running.house, 'a'),
      claimJob(running.house, 'b'),
      claimJob(running.house, 'c'),
    ]);
    expect(
      claims
        .filter(Boolean)
        .map((j) => j!.id)
        .sort(),
    ).toEqual([first, second].sort());
    for (const job of claims) if (job) await finishJob(running.house.db.manager, job);
  });

  test('ordered twice is one job', async () => {
    const subject = newId<string>(running.house);
    const order = () => orderJob(running.house, running.house.db.manager, 'hand-back-pdf', subject);
    expect(await order()).toBe(await order());
    await finishJob(running.house.db.manager, (await claimJob(running.house, 'a'))!);
  });

  test('whose worker died is claimed again when its time is over, not before', async () => {
    const id = await order();
    const job = (await claimJob(running.house, 'dies'))!;
    await reportProgress(running.house, job, 3, 10);
    expect(await claimJob(running.house, 'b')).toBeNull();
    clock += 61_000;
    expect((await claimJob(running.house, 'b'))?.id).toBe(id);
    expect(await state(id)).toMatchObject({ attempts: 2, done: 3, total: 10 });
    await finishJob(running.house.db.manager, job);
  });

  test('is tried three times, then failed, until somebody asks again', async () => {
    const id = await order();
    for (let i = 1; i <= MAX_ATTEMPTS; i++) {
      await failJob(running.house.db.manager, (await claimJob(running.house, 'a'))!, 'broken');
      expect((await state(id)).state).toBe(i < MAX_ATTEMPTS ? 'queued' : 'failed');
    }
    const [{ subject }] = await running.house.db.query('SELECT subject FROM job WHERE id = ?', [id]);
    await retryJob(running.house.db.manager, 'read-document', subject);
    expect(await state(id)).toMatchObject({ state: 'queued', attempts: 0, error: null });
    await finishJob(running.house.db.manager, (await claimJob(running.house, 'a'))!);
  });

  test('a copy can be handed in and is in the pile while nobody has read its pages yet', async () => {
    const h = await handedIn(running);
    const { body } = await h.teacherCaller.call('pile', { params: { assignmentId: h.assignmentId } });
    expect(body.rows[0]).toMatchObject({ place: 'in', reading: { state: 'running' } });
    expect(
      (await h.teacherCaller.call('documentPages', { params: { documentId: h.documentId } })).body,
    ).toMatchObject({ frames: [], state: { reading: { state: 'queued' } } });
  });
});

describe('the process that opens files', () => {
  const file = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'in.pdf');
  beforeAll(async () => writeFileSync(file, await plainPdf(['words'], 3)));

  test('counts and measures pages, again and again in one process', async () => {
    const opener = new Opener();
    for (let i = 0; i < 3; i++)
      expect(await opener.run({ op: 'look', file })).toEqual({ pages: 3, longestSide: 842 });
    opener.close();
  });

  test('is stopped when it takes too long, and the next file gets a new one', async () => {
    const hasty = new Opener({ ms: 1, residentBytes: 1024 ** 3 });
    await expect(hasty.run({ op: 'look', file })).rejects.toMatchObject({ reason: 'too-slow' });
    hasty.close();
    const opener = new Opener();
    expect(await opener.run({ op: 'look', file })).toMatchObject({ pages: 3 });
    opener.close();
  });

  test('is stopped when it grows too big', async () => {
    const small = new Opener({ ms: 20_000, residentBytes: 1024 });
    await expect(
      small.run({ op: 'read', file, out: `${file}.out`, shapes: false, picture: `${file}.jpg` }),
    ).rejects.toMatchObject({
      reason: 'too-big',
    });
    small.close();
  });

  test('says that a file is broken without taking the server down', async () => {
    writeFileSync(`${file}.bad`, 'nothing like a PDF');
    const opener = new Opener();
    await expect(
      opener.run({
        op: 'read',
        file: `${file}.bad`,
        out: `${file}.out`,
        shapes: false,
        picture: `${file}.jpg`,
      }),
    ).rejects.toMatchObject({
      reason: 'broken',
    });
    opener.close();
  });
});

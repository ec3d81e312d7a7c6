import type { EntitySubscriberInterface } from 'typeorm';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { DocumentTable, JobTable } from '../database/entities/index.ts';
import { update } from '../database/write.ts';
import { Failed } from '../programs/failed.ts';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { testServer } from '../testing/house.ts';
import { documentPages } from './pages.ts';

let running: Running;
beforeAll(async () => {
  running = await testServer();
});
afterAll(() => running.stop());

test('a reading that failed, or gave up as too slow, is tried again when somebody who sees the file asks for it', async () => {
  const h = await handedIn(running);
  const params = { documentId: h.documentId };
  const state = async () => (await h.teacherCaller.call('documentPages', { params })).body.state;
  await expect.poll(async () => (await state()).reading.state, { timeout: 30_000 }).toBe('done');
  const { manager } = running.house.db;
  for (const trouble of [null, 'too-slow'] as const) {
    const as = trouble ? ({ shows: 'nothing', trouble } as const) : { trouble };
    await update(manager, DocumentTable, { id: h.documentId }, as);
    await update(
      manager,
      JobTable,
      { kind: 'read-document', subject: h.documentId },
      trouble ? { state: 'done' } : { state: 'failed', error: 'unreadable', attempts: 3 },
    );
    const reply = await h.student.call('documentAgain', { params });
    expect(reply).toMatchObject({ status: 200, body: { shows: 'pages', trouble: null } });
    await expect.poll(async () => (await state()).reading.state, { timeout: 30_000 }).toBe('done');
    expect(await state()).toMatchObject({ shows: 'pages', trouble: null, pages: 1 });
  }
});

test('a small picture that is too much does not fail the reading: there are pages and words, and no picture', async () => {
  const { opener } = running;
  const run = opener.run.bind(opener);
  const asked: string[] = [];
  opener.run = (task, ...more) => {
    if (task.op !== 'read') return run(task, ...more);
    asked.push(task.picture === null ? 'without' : 'with');
    return task.picture === null
      ? run(task, ...more)
      : Promise.reject(new Failed('too-slow', 'drawing it takes for ever'));
  };
  try {
    const h = await handedIn(running);
    const params = { documentId: h.documentId };
    const pages = async () => (await h.teacherCaller.call('documentPages', { params })).body;
    await expect.poll(async () => (await pages()).state.reading.state, { timeout: 30_000 }).toBe('done');
    expect((await pages()).state).toMatchObject({ shows: 'pages', trouble: null, pages: 1 });
    expect((await h.teacherCaller.call('documentText', { params })).body[0].words.length).toBeGreaterThan(0);
    // First where others wait behind it, then where nobody does.
    expect(asked).toEqual(['with', 'with', 'without']);
  } finally {
    opener.run = run;
  }
});

test('what was read is not read again for the asking', async () => {
  const h = await handedIn(running);
  const params = { documentId: h.documentId };
  const reading = async () => (await h.student.call('documentPages', { params })).body.state.reading;
  await expect.poll(async () => (await reading()).state, { timeout: 30_000 }).toBe('done');
  const { body } = await h.student.call('documentAgain', { params });
  expect(body.reading.state).toBe('done');
});

test('pages whose reading ends while they are asked for are never told to be done without being there', async () => {
  const h = await handedIn(running);
  const { house } = running;
  const { manager } = house.db;
  const of = { kind: 'read-document', subject: h.documentId } as const;
  const pages = () => documentPages(house, h.documentId, true);
  await expect.poll(async () => (await pages()).state.reading.state, { timeout: 30_000 }).toBe('done');
  const { frames } = await pages();
  await update(manager, DocumentTable, { id: h.documentId }, { frames: null });
  await update(manager, JobTable, of, { state: 'running' });
  let ended = false;
  const endsReading: EntitySubscriberInterface = {
    afterQuery: async ({ query }) => {
      if (ended || !/FROM `document`/.test(query)) return;
      ended = true;
      await update(manager, DocumentTable, { id: h.documentId }, { frames });
      await update(manager, JobTable, of, { state: 'done' });
    },
  };
  house.db.subscribers.push(endsReading);
  try {
    const told = await pages();
    expect(ended).toBe(true);
    expect(told.state.reading.state === 'done' && told.frames.length === 0).toBe(false);
    expect(await pages()).toMatchObject({ state: { reading: { state: 'done' } }, frames });
  } finally {
    house.db.subscribers.splice(house.db.subscribers.indexOf(endsReading), 1);
  }
});

import type { DocumentId } from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { DocumentTable } from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { sweepTakenAway } from '../document/sweep-away.ts';
import { sweepJobs } from '../jobs/queue.ts';
import type { Running } from '../serve.ts';
import { Caller, smallClass, testServer } from '../testing/house.ts';
import { plainPdf } from '../testing/pdfs.ts';
import { countUpload, keptBytes, LIMITS } from './limits.ts';

let running: Running;
let clock = Date.now();
beforeAll(async () => {
  running = await testServer({}, { now: () => clock });
});
afterAll(() => running.stop());

async function student() {
  const s = await smallClass(running);
  const caller = await new Caller(running.address).signIn(s.students[0]!.login);
  return { ...s, caller, me: s.students[0]!, copyId: s.copyOf(0) };
}
const used = (name: string, hits: number) =>
  running.house.db.query('INSERT INTO attempt (name, hits, reset_at) VALUES (?, ?, ?)', [
    name,
    hits,
    new Date(clock + 600_000),
  ]);

describe('what one person may send', () => {
  test('messages: so many in an hour, then a sentence with how long, and all before it are kept', async () => {
    const { caller, me, copyId } = await student();
    const { messages } = LIMITS.student;
    await used(`messages:${me.id}`, messages - 1);
    const say = (n: number) =>
      caller.call('say', {
        params: { copyId },
        body: { id: `01a21263-aab7-77a6-ad1f-cbff6ce69f3${n}`, words: 'Hello?' },
      });
    expect((await say(1)).status).toBe(200);
    const refused = await say(2);
    expect(refused).toMatchObject({
      status: 429,
      body: { error: { code: 'too-much-at-once', facts: { what: 'messages', most: messages, minutes: 10 } } },
    });
    expect((await caller.call('messages', { params: { copyId } })).body.messages).toHaveLength(1);
    clock += 601_000;
    expect((await say(2)).status).toBe(200);
  });

  test('thirty at the same moment are thirty, and none fails', async () => {
    const { me } = await student();
    await Promise.all(Array.from({ length: 30 }, () => countUpload(running.house, me)));
    const [row] = await running.house.db.query('SELECT hits FROM attempt WHERE name = ?', [
      `uploads:${me.id}`,
    ]);
    expect(row.hits).toBe(30);
  });

  test('files: so many in an hour, each counted before its bytes are read', async () => {
    const { caller, me, copyId } = await student();
    await used(`uploads:${me.id}`, LIMITS.student.uploads);
    expect((await caller.upload(copyId, await plainPdf())).body.error.code).toBe('too-much-at-once');
    // Others are not held up by it.
    const other = await student();
    expect((await other.caller.upload(other.copyId, await plainPdf())).body.shows).toBe('pages');
  });

  test('and keep: what lies on their copies counts together', async () => {
    const { caller, me, copyId } = await student();
    const bytes = await plainPdf();
    await caller.upload(copyId, bytes);
    expect(await keptBytes(running.house.db.manager, me.id)).toBe(bytes.length);
    await running.house.db.query(
      'UPDATE blob_file SET bytes = ? WHERE sha256 = (SELECT original_sha256 FROM document WHERE copy_id = ?)',
      [2 ** 31 - 1, copyId],
    );
    await caller.upload(copyId, new Uint8Array([...bytes, 10]));
    const refused = await caller.upload(copyId, new Uint8Array([...bytes, 10, 10]));
    expect(refused).toMatchObject({
      status: 413,
      body: { error: { code: 'keeps-too-much', facts: { gigabytes: 2 } } },
    });
    await running.house.db.query('UPDATE blob_file SET bytes = ? WHERE bytes = ?', [
      bytes.length,
      2 ** 31 - 1,
    ]);
  });
});

describe('what was taken off a copy', () => {
  const there = (id: string) => find(running.house.db.manager, DocumentTable, { id: id as DocumentId });
  const week = () => {
    clock += 8 * 86_400_000;
  };

  test('goes with its bytes after a week, not before', async () => {
    const { caller, copyId } = await student();
    const bytes = new TextEncoder().encode(`only here ${copyId}`);
    const { id } = (await caller.upload(copyId, bytes, 'a.txt')).body;
    const { originalSha256 } = (await there(id))!;
    await caller.call('removeFile', { params: { copyId, documentId: id } });
    await sweepTakenAway(running.house);
    expect(await there(id)).not.toBeNull();
    week();
    // What brought it here is forgotten by then, see `jobs/runner.ts`.
    await sweepJobs(running.house.db.manager, clock);
    expect(await sweepTakenAway(running.house)).toBeGreaterThan(0);
    expect(await there(id)).toBeNull();
    expect(
      await running.house.db.query('SELECT 1 FROM blob_file WHERE sha256 = ?', [originalSha256]),
    ).toEqual([]);
  });

  test('stays when it was handed in, also when that was taken back; and bytes stay that somebody else has too', async () => {
    const s = await student();
    const { copyId } = s;
    const bytes = new TextEncoder().encode(`twice ${copyId}`);
    const { id } = (await s.caller.upload(copyId, bytes, 'a.txt')).body;
    await s.caller.handIn(copyId);
    await s.caller.call('takeBack', { params: { copyId } });
    await s.caller.call('removeFile', { params: { copyId, documentId: id } });
    const again = (await s.caller.upload(copyId, bytes, 'b.txt')).body.id;
    await s.caller.call('removeFile', { params: { copyId, documentId: again } });
    week();
    await new Caller(running.address).signIn(s.me.login);
    await sweepTakenAway(running.house);
    expect(await there(again)).toBeNull();
    const kept = await there(id);
    expect(kept).not.toBeNull();
    expect(
      await running.house.db.query('SELECT 1 FROM blob_file WHERE sha256 = ?', [kept!.originalSha256]),
    ).toHaveLength(1);
  });
});

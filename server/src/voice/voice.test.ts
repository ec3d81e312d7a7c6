import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type Change,
  type ChangeId,
  digestOf,
  integratedLoudness,
  makeEven,
  type NoteMark,
  TARGET_LUFS,
  VOICE_PART,
  VOICE_RATE,
} from '@jotmark/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, testServer } from '../testing/house.ts';
import { done, id, note, put } from '../testing/marks.ts';
import { keepSpoken, partsOf, recordingOfBytes, spoken } from '../testing/voices.ts';

let running: Running;
let folder: string;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
  folder = await mkdtemp(join(tmpdir(), 'jotmark-voice-'));
});
afterAll(async () => {
  await running.stop();
  await rm(folder, { recursive: true });
});

type Handed = Awaited<ReturnType<typeof handedIn>>;
const said = (h: Handed, bytes: Uint8Array) =>
  note(h.documentId, '', { voice: recordingOfBytes(bytes) } as Partial<NoteMark>);
const slipVoice = (bytes: Uint8Array): Change => ({
  id: id<ChangeId>(),
  base: null,
  type: 'write',
  field: 'voice',
  value: recordingOfBytes(bytes),
  was: null,
});
const hears = async (caller: Caller, file: string) => (await caller.raw('GET', `/api/voices/${file}`)).status;
const handBack = (h: Handed) =>
  h.teacherCaller.call('handBack', {
    params: { assignmentId: h.assignmentId },
    body: { copyIds: [h.copyId] },
  });

describe('keeping', () => {
  test('a recording in three parts, of which each comes twice and in any order, is the very bytes', async () => {
    const h = await handedIn(running);
    const bytes = Buffer.concat([spoken(), Buffer.alloc(2 * VOICE_PART + 5, 7)]);
    const file = digestOf(bytes);
    const parts = partsOf(bytes);
    expect(parts).toHaveLength(3);
    const missing: number[][] = [];
    for (const n of [2, 0, 0, 2, 1, 1]) {
      const reply = await h.teacherCaller.call('keepVoicePart', { params: { file }, body: parts[n] });
      expect(reply.status).toBe(200);
      missing.push(reply.body.missing);
    }
    expect(missing).toEqual([[0, 1], [1], [1], [1], [], []]);
    const back = await h.teacherCaller.raw('GET', `/api/voices/${file}`);
    expect(back.headers.get('content-type')).toBe('audio/ogg');
    expect(Buffer.from(await back.arrayBuffer()).equals(bytes)).toBe(true);
    const some = await h.teacherCaller.raw('GET', `/api/voices/${file}`, { headers: { range: 'bytes=0-3' } });
    expect([some.status, await some.text()]).toEqual([206, 'OggS']);
    expect(await running.house.db.query('SELECT 1 FROM voice_part')).toHaveLength(0);
  });

  test('two tabs that send the same parts at once keep it once, and neither is told that it is broken', async () => {
    const h = await handedIn(running);
    const bytes = Buffer.concat([spoken('talk'), Buffer.alloc(3 * VOICE_PART, 9)]);
    const file = digestOf(bytes);
    const send = async () => {
      const all = [];
      for (const body of partsOf(bytes))
        all.push((await h.teacherCaller.call('keepVoicePart', { params: { file }, body })).status);
      return all;
    };
    const statuses = (await Promise.all([send(), send(), send()])).flat();
    expect(new Set(statuses)).toEqual(new Set([200]));
    expect(await running.house.db.query('SELECT 1 FROM voice WHERE sha256 = ?', [file])).toHaveLength(1);
    expect(await hears(h.teacherCaller, file)).toBe(200);
  });

  test('what is no recording, or not the bytes it says, is refused, and nothing of it stays', async () => {
    const h = await handedIn(running);
    const page = Buffer.from('<html><script>alert(1)</script></html>');
    const keep = (bytes: Buffer, file = digestOf(bytes), type: 'audio/ogg' | 'video/webm' = 'audio/ogg') =>
      h.teacherCaller.call('keepVoicePart', { params: { file }, body: partsOf(bytes, type)[0] });
    for (const reply of [
      await keep(page),
      await keep(spoken('lines'), digestOf(page)),
      await keep(spoken('lines'), digestOf(spoken('lines')), 'video/webm'),
    ])
      expect(reply).toMatchObject({ status: 422, body: { error: { code: 'voice-broken' } } });
    expect(await running.house.db.query('SELECT 1 FROM voice_part')).toHaveLength(0);
    const huge = { ...partsOf(spoken())[0]!, base64: 'A'.repeat(VOICE_PART * 2) };
    const reply = await h.teacherCaller.call('keepVoicePart', {
      params: { file: digestOf(page) },
      body: huge,
    });
    expect(reply.status).toBeGreaterThanOrEqual(400);
  });

  test('a marking may not name a recording that nobody has', async () => {
    const h = await handedIn(running);
    const nobody = Buffer.from('OggS that never came');
    const answer = await h.send(put(said(h, nobody)), slipVoice(nobody));
    expect(answer.results).toMatchObject([
      { outcome: 'refused', reason: 'no-such-voice' },
      { outcome: 'refused', reason: 'no-such-voice' },
    ]);
  });
});

describe('who hears', () => {
  test('its maker and the copy’s teachers; the student from the hand-back on, and only what was handed back', async () => {
    const h = await handedIn(running);
    const other = await handedIn(running);
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const [given, kept] = [spoken('scale'), spoken('evidence')];
    const file = await keepSpoken(h.teacherCaller, given);
    const changed = await keepSpoken(h.teacherCaller, kept);
    const first = said(h, kept);
    const putFirst = put(first);
    await h.send(
      putFirst,
      put({ ...first, voice: recordingOfBytes(given) } as NoteMark, first, putFirst.id),
      slipVoice(given),
    );
    expect(await hears(h.teacherCaller, file)).toBe(200);
    for (const nobody of [h.student, ben, other.student, other.teacherCaller, new Caller(running.address)])
      expect(await hears(nobody, file)).toBeGreaterThanOrEqual(401);
    const plain = await h.student.raw('GET', `/api/voices/${file}/plain`);
    expect(plain.status).toBe(404);
    expect(
      JSON.stringify((await h.student.call('work', { params: { copyId: h.copyId } })).body),
    ).not.toContain(file);

    await h.send(done(true));
    await handBack(h);
    expect(await hears(h.student, file)).toBe(200);
    // What was said first and then done over was never handed back.
    expect(await hears(h.student, changed)).toBe(404);
    for (const nobody of [ben, other.student, other.teacherCaller])
      expect(await hears(nobody, file)).toBe(404);
    const { body } = await h.student.call('work', { params: { copyId: h.copyId } });
    expect(body.handBack.snapshot.voice).toMatchObject({ file, ms: 7000 });
    expect(body.handBack.snapshot.marks[0].voice.captions[0].words).toBe(
      'Good, you wrote down the scale first.',
    );
  });

  test('the desk has what is said about the whole copy, and that it was heard; what was reached stays', async () => {
    const h = await handedIn(running);
    const ben = await new Caller(running.address).signIn(h.students[1]!.login);
    const file = await keepSpoken(h.teacherCaller, spoken('closing'));
    await h.send(slipVoice(spoken('closing')), done(true));
    const desk = async () => (await h.teacherCaller.call('desk', { params: { copyId: h.copyId } })).body;
    expect((await desk()).marking.slip.voice.value.file).toBe(file);
    await handBack(h);
    const { body } = await h.student.call('work', { params: { copyId: h.copyId } });
    const handBackId = body.handBack.id;
    const heard = (caller: Caller, reached: number, left: number, of: string = file) =>
      caller.call('heard', { params: { handBackId, file: of }, body: { reached, left } });
    expect((await heard(h.student, 5000, 5000)).status).toBe(200);
    expect((await heard(h.student, 1000, 800)).status).toBe(200);
    const pile = await h.teacherCaller.call('pile', { params: { assignmentId: h.assignmentId } });
    const row = pile.body.rows.find((r: { copyId: string }) => r.copyId === h.copyId);
    expect(row.back).toMatchObject({ recordings: 1, heard: 1 });
    expect((await desk()).heard).toMatchObject([{ file, reached: 5000, left: 800 }]);
    const again = (await h.student.call('work', { params: { copyId: h.copyId } })).body;
    expect(again.handBack.heard).toMatchObject([{ file, reached: 5000, left: 800 }]);
    expect((await heard(ben, 1, 1)).status).toBe(404);
    expect((await heard(h.student, 1, 1, digestOf(new Uint8Array([1])))).status).toBe(404);
    expect((await heard(h.teacherCaller, 1, 1)).status).toBe(403);
  });
});

test('its plain form is MP3 of the same length, made by a job; until then that is said', async () => {
  const h = await handedIn(running);
  const file = await keepSpoken(h.teacherCaller, spoken('lines'));
  for (;;) {
    const reply = await h.teacherCaller.raw('GET', `/api/voices/${file}/plain`);
    if (reply.status === 409) {
      expect(await reply.json()).toMatchObject({ error: { code: 'voice-not-ready' } });
      await new Promise((resolve) => setTimeout(resolve, 50));
      continue;
    }
    expect([reply.status, reply.headers.get('content-type')]).toEqual([200, 'audio/mpeg']);
    const path = join(folder, 'plain.mp3');
    await writeFile(path, Buffer.from(await reply.arrayBuffer()));
    const about = execFileSync('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream=codec_name,channels:format=duration',
      '-of',
      'json',
      path,
    ]);
    const { streams, format } = JSON.parse(about.toString());
    expect(streams).toMatchObject([{ codec_name: 'mp3', channels: 1 }]);
    expect(Number(format.duration)).toBeCloseTo(10.38, 0);
    break;
  }
});

test('in the PDF it is a file at its place, with its words as contents, and one about the whole copy', async () => {
  const h = await handedIn(running);
  await keepSpoken(h.teacherCaller, spoken('talk'));
  await keepSpoken(h.teacherCaller, spoken('closing'));
  await h.send(put(said(h, spoken('talk'))), slipVoice(spoken('closing')), done(true));
  await handBack(h);
  const { body } = await h.student.call('work', { params: { copyId: h.copyId } });
  const ordered = await h.student.call('makePdf', { params: { handBackId: body.handBack.id } });
  await h.student.outcome(ordered.body.jobId);
  const pdf = join(folder, 'marked.pdf');
  const file = await h.student.raw('GET', `/api/hand-backs/${body.handBack.id}/pdf`);
  await writeFile(pdf, Buffer.from(await file.arrayBuffer()));
  execFileSync('qpdf', ['--check', pdf]);
  const json = JSON.parse(execFileSync('qpdf', ['--json', pdf], { maxBuffer: 2 ** 26 }).toString());
  const objects = Object.values(json.qpdf[1]) as { value?: Record<string, string> }[];
  const attached = objects.flatMap((o) => (o.value?.['/Subtype'] === '/FileAttachment' ? [o.value] : []));
  expect(attached).toHaveLength(2);
  for (const one of attached) expect(one['/Contents']).toContain('Good, you wrote down the scale first.');
  const specs = objects.flatMap((o) => (o.value?.['/Type'] === '/Filespec' ? [o.value['/UF']] : []));
  expect(specs.sort()).toEqual([
    expect.stringMatching(/^u:About the whole copy\.(mp3|ogg)$/),
    expect.stringMatching(/^u:Voice note on page 1\.(mp3|ogg)$/),
  ]);
});

test('loudness is what another program measures, before and after it was made even', async () => {
  const raw = (path: string) => {
    const bytes = execFileSync(
      'ffmpeg',
      ['-v', 'error', '-i', path, '-ac', '1', '-ar', String(VOICE_RATE), '-f', 'f32le', '-'],
      {
        maxBuffer: 2 ** 28,
      },
    );
    return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
  };
  const measured = async (samples: Float32Array) => {
    const path = join(folder, 'samples.f32');
    await writeFile(path, Buffer.from(samples.buffer));
    const out = execFileSync('sh', [
      '-c',
      `ffmpeg -hide_banner -nostats -f f32le -ar ${VOICE_RATE} -ac 1 -i ${path} -af ebur128 -f null - 2>&1 | grep -A1 'Integrated' | grep -oE '[-0-9.]+ LUFS'`,
    ]).toString();
    return Number.parseFloat(out);
  };
  for (const name of ['scale', 'lines', 'talk']) {
    const path = join(folder, `${name}.ogg`);
    await writeFile(path, spoken(name));
    const samples = raw(path);
    expect(Math.abs(integratedLoudness(samples, VOICE_RATE)! - (await measured(samples)))).toBeLessThan(0.15);
    const even = makeEven(samples);
    expect(Math.abs((await measured(even.samples)) - TARGET_LUFS)).toBeLessThan(0.7);
  }
});

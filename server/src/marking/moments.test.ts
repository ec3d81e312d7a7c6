import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DocumentId, Mark, MarkId, NoteMark } from '@jotmark/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { ROOT } from '../testing/floors.ts';
import { handedIn } from '../testing/handed-in.ts';
import { Caller, smallClass, testServer } from '../testing/house.ts';
import { done, id, note, put } from '../testing/marks.ts';
import { keepSpoken, recordingOfBytes, spoken } from '../testing/voices.ts';

let running: Running;
let folder: string;
beforeAll(async () => {
  running = await testServer({ workers: 1 });
  folder = await mkdtemp(join(tmpdir(), 'jotmark-moments-'));
});
afterAll(async () => {
  await running.stop();
  await rm(folder, { recursive: true });
});

const film = readFileSync(join(ROOT, 'school/assets/walk.webm'));
const atMoment = (document: DocumentId, at: number, words: string, more: Partial<NoteMark> = {}): Mark =>
  note(document, words, { place: { on: 'moment', at }, ...more } as Partial<Mark>);
const tickAt = (document: DocumentId, moment: number): Mark => ({
  v: 2,
  id: id<MarkId>(),
  document,
  page: 0,
  colour: 'garnet',
  focus: null,
  madeAt: 0,
  kind: 'stamp',
  x: 0,
  y: 0,
  size: 20,
  turn: 0,
  look: { of: 'sign', sign: 'tick' },
  points: 100,
  moment,
});

test('a film takes notes, stamps and voice at moments, handed back with them, and in the PDF a list with times', async () => {
  const school = await smallClass(running, ['ada']);
  const student = await new Caller(running.address).signIn(school.students[0]!.login);
  const teacher = await new Caller(running.address).signIn(school.teacher.login);
  const copyId = school.copyOf(0);
  const laid = await student.upload(copyId, film, 'Ada’s walk.webm');
  expect(laid).toMatchObject({ status: 200, body: { shows: 'film', pages: 0 } });
  await student.handIn(copyId);
  const { handIn } = (await teacher.call('desk', { params: { copyId } })).body;
  const document = laid.body.id as DocumentId;
  await keepSpoken(teacher, spoken('evidence'));
  const changes = [
    put(atMoment(document, 65_400, 'Say which **number** tells you so.')),
    put(tickAt(document, 3000)),
    put(atMoment(document, 9000, '', { voice: recordingOfBytes(spoken('evidence')) })),
    // What needs a page has none here.
    put(note(document, 'on a page')),
    done(true),
  ];
  const answer = await teacher.call('sendChanges', { params: { handInId: handIn.id }, body: { changes } });
  expect(answer.body.results.map((r: { outcome: string }) => r.outcome)).toEqual([
    'applied',
    'applied',
    'applied',
    'refused',
    'applied',
  ]);
  await teacher.call('handBack', {
    params: { assignmentId: school.assignmentId },
    body: { copyIds: [copyId] },
  });
  const { handBack } = (await student.call('work', { params: { copyId } })).body;
  expect(handBack.snapshot.marks).toHaveLength(3);
  const ordered = await student.call('makePdf', { params: { handBackId: handBack.id } });
  await student.outcome(ordered.body.jobId);
  const reply = await student.raw('GET', `/api/hand-backs/${handBack.id}/pdf`);
  const path = join(folder, 'list.pdf');
  await writeFile(path, Buffer.from(await reply.arrayBuffer()));
  execFileSync('qpdf', ['--check', path]);
  // Behind the cover sheet.
  const text = execFileSync('pdftotext', ['-layout', '-f', '2', path, '-']).toString();
  const lines = text
    .split('\n')
    .map((l) => l.trim().replace(/\s+/g, ' '))
    .filter(Boolean);
  expect(lines[0]).toContain('Ada’s walk.webm');
  expect(lines[1]).toBe('0:03 tick 1');
  expect(lines[2]).toMatch(/^0:09 \(voice note, 0:07\)$/);
  expect(lines[3]).toBe('Good, you wrote down the scale first.');
  expect(lines[4]).toBe('1:05 Say which number tells you so.');
  expect(execFileSync('pdfdetach', ['-list', path]).toString()).toContain('Voice note at 0.09');
});

test('a page takes no mark with a moment', async () => {
  const h = await handedIn(running);
  const answer = await h.send(put(atMoment(h.documentId, 1000, 'when?')), put(tickAt(h.documentId, 0)));
  expect(answer.results).toMatchObject([{ reason: 'no-such-page' }, { reason: 'no-such-page' }]);
});

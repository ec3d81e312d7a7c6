import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { FILE_LIMITS, MOST_PIXELS_OF_A_PICTURE } from '@jotmark/core';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, type Loose, smallClass, testServer } from '../testing/house.ts';

const WORDS = ['tarn', 'water', 'island', 'harbour', 'chart', 'north', 'wind', 'ridge', 'ferry'];

/** A PDF full of words, of this many to a page. */
async function full(pages: number, lines: number, wordsOfLine: number, size: number): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const font = await pdf.embedFont(StandardFonts.Helvetica);
  for (let p = 0; p < pages; p++) {
    const page = pdf.addPage([595, 842]);
    for (let l = 0; l < lines; l++) {
      const text = Array.from({ length: wordsOfLine }, (_, i) => WORDS[(p + l + i) % WORDS.length]).join(' ');
      page.drawText(text, { x: 30, y: 820 - (l * 800) / lines, size, font });
    }
  }
  return pdf.save();
}

let running: Running;
let busy: ChildProcess[] = [];
beforeAll(async () => {
  running = await testServer({ workers: 2 });
  // Others are at work on this machine: what a file costs is counted, and not how long it waits for its turn.
  busy = Array.from({ length: 2 }, () => spawn('sh', ['-c', 'while :; do :; done']));
});
afterAll(async () => {
  for (const b of busy) b.kill('SIGKILL');
  await running.stop();
});

test('what is within the limits is shown, however large it is and however much there is to do', async () => {
  const s = await smallClass(running, ['ada', 'ben', 'cy']);
  const path = join(mkdtempSync(join(tmpdir(), 'jotmark-test-')), 'large.jpg');
  const side = 12_200;
  expect(side * side).toBeGreaterThan(0.99 * MOST_PIXELS_OF_A_PICTURE);
  await sharp({ create: { width: side, height: side, channels: 3, background: '#cde' } })
    .jpeg()
    .toFile(path);
  const pages = FILE_LIMITS.pages - 20;
  const files = [
    ['many pages.pdf', await full(pages, 55, 14, 9)],
    ['large.jpg', new Uint8Array(readFileSync(path))],
    ['all on one page.pdf', await full(1, 1000, 140, 0.6)],
  ] as const;
  const shown = await Promise.all(
    files.map(async ([name, bytes], n) => {
      const student = await new Caller(running.address).signIn(s.students[n]!.login);
      const { body: laid } = await student.upload(s.copyOf(n), bytes, name);
      const params = { documentId: laid.id };
      const state = async () => (await student.call('documentPages', { params })).body.state as Loose;
      await expect.poll(async () => (await state()).reading.state, { timeout: 200_000 }).toBe('done');
      const words = (await student.call('documentText', { params })).body.reduce(
        (sum: number, p: Loose) => sum + p.words.length,
        0,
      );
      const file = await student.raw('GET', `/api/documents/${laid.id}/file`);
      return { ...(await state()), words, size: (await file.arrayBuffer()).byteLength };
    }),
  );
  expect(shown.map((f) => [f.name, f.shows, f.trouble, f.pages, f.words])).toEqual([
    ['many pages.pdf', 'pages', null, pages, pages * 55 * 14],
    ['large.jpg', 'pages', null, 1, 0],
    ['all on one page.pdf', 'pages', null, 1, 140_000],
  ]);
  expect(shown[1]!.size, 'made small enough to work with').toBeLessThan(2_000_000);
}, 240_000);

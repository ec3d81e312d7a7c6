import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { expect, test } from 'vitest';
import { writePicture } from './small-picture.ts';

test('the small picture of a page has its colours: the sea is blue and the island yellow', async () => {
  const pdf = await PDFDocument.create();
  const page = pdf.addPage([600, 848]);
  page.drawRectangle({ x: 0, y: 424, width: 600, height: 424, color: rgb(0.1, 0.3, 0.9) });
  page.drawRectangle({ x: 0, y: 0, width: 600, height: 424, color: rgb(0.95, 0.85, 0.1) });
  const to = join(mkdtempSync(join(tmpdir(), 'jotmark-picture-')), 'small.jpg');
  await writePicture(await pdf.save(), to);
  const { data, info } = await sharp(to).raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height, info.channels]).toEqual([300, 424, 3]);
  const at = (x: number, y: number) => [...data.subarray((y * 300 + x) * 3, (y * 300 + x) * 3 + 3)];
  for (const [[x, y], meant] of [
    [
      [150, 60],
      [26, 77, 230],
    ],
    [
      [150, 360],
      [242, 217, 26],
    ],
  ] as const)
    at(x, y).forEach((v, i) => expect(Math.abs(v - meant[i]!), `${x},${y}`).toBeLessThan(12));
});

import { PDFDocument } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { expect, test } from 'vitest';
import { scannedRules } from './scanned-rules.ts';

/** A sheet of writing paper as a scanner gives it: grey paper, pale lines, a heading, a little askew, as JPEG. */
async function scan(askew: number): Promise<Uint8Array> {
  const lines = [300, 330, 360, 500].map(
    (y) => `<line x1="70" x2="520" y1="${y}" y2="${y}" stroke="#9aa6b8" stroke-width="0.9"/>`,
  );
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="1240" height="1754" viewBox="0 0 595 842">
    <rect width="595" height="842" fill="#eeece6"/><text x="70" y="120" font-size="22">The owl and the wren</text>
    <text x="70" y="280" font-size="12">1 Where do they sleep, and why do they not sleep there in winter?</text>
    <rect x="70" y="600" width="200" height="90" fill="#888"/>${lines.join('')}</svg>`;
  const jpeg = await sharp(Buffer.from(svg))
    .rotate(askew, { background: '#eeece6' })
    .jpeg({ quality: 70 })
    .toBuffer();
  const pdf = await PDFDocument.create();
  for (let n = 0; n < 2; n++) {
    const page = pdf.addPage([595, 842]);
    if (n === 1)
      page.drawImage(await pdf.embedJpg(new Uint8Array(jpeg)), { x: 0, y: 0, width: 595, height: 842 });
  }
  return pdf.save();
}

test('the lines of a scanned sheet are found on its page, straight or a little askew; its words and pictures are none', async () => {
  for (const askew of [0, 0.8]) {
    const bytes = await scan(askew);
    expect(await scannedRules(bytes, 0)).toEqual([]);
    const found = await scannedRules(bytes, 1);
    expect(found).toHaveLength(4);
    for (const [i, y] of [300, 330, 360, 500].entries()) {
      const [l, t, r, b] = found[i]!;
      expect(Math.abs((t + b) / 2 - y)).toBeLessThan(askew ? 8 : 2);
      expect([l > 45 && l < 95, r > 490 && r < 550]).toEqual([true, true]);
    }
  }
});

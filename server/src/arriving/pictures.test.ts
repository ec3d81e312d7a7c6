import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Running } from '../serve.ts';
import { Caller, type Loose, readingDone, smallClass, testServer } from '../testing/house.ts';

const folder = mkdtempSync(join(tmpdir(), 'jotmark-pictures-'));
let running: Running;
let student: Caller;
let copyId: string;
beforeAll(async () => {
  running = await testServer({ workers: 2 });
  const school = await smallClass(running);
  student = await new Caller(running.address).signIn(school.students[0]!.login);
  copyId = school.copyOf(0);
});
afterAll(async () => {
  await running.stop();
  rmSync(folder, { recursive: true, force: true });
});

const at = (name: string) => join(folder, name);
const read = (name: string) => new Uint8Array(readFileSync(at(name)));
/** A page with something on it: black on the left, white on the right. */
const picture = (width = 400, height = 300) =>
  sharp({ create: { width, height, channels: 3, background: '#ffffff' } }).composite([
    {
      input: { create: { width: width / 2, height, channels: 3, background: '#102030' } },
      left: 0,
      top: 0,
    },
  ]);

async function add(bytes: Uint8Array, name: string): Promise<Loose> {
  const laid = await student.upload(copyId, bytes, name);
  expect(laid.body, name).toMatchObject({ name });
  await readingDone(student, laid.body.id);
  const { body } = await student.call('documentPages', { params: { documentId: laid.body.id } });
  return { ...body.state, frames: body.frames };
}

/** How bright each half of the first page is, as it was drawn. */
async function halves(id: string): Promise<[left: number, right: number]> {
  const small = await student.raw('GET', `/api/documents/${id}/picture`);
  const { data, info } = await sharp(Buffer.from(await small.arrayBuffer()))
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const mean = (from: number, to: number) => {
    let [sum, n] = [0, 0];
    for (let y = 0; y < info.height; y++)
      for (let x = Math.ceil(from * info.width); x < to * info.width; x++, n++)
        sum += data[y * info.width + x]!;
    return sum / n;
  };
  return [mean(0.05, 0.45), mean(0.55, 0.95)];
}

async function looksRight(state: Loose, type: string, pages = 1): Promise<void> {
  expect(state).toMatchObject({ type, pages, shows: 'pages', trouble: null, reading: { state: 'done' } });
  const [left, right] = await halves(state.id);
  expect(left).toBeLessThan(80);
  expect(right).toBeGreaterThan(200);
}

describe('pictures of other kinds become pages', () => {
  test('GIF', async () => looksRight(await add(await picture().gif().toBuffer(), 'a.gif'), 'image/gif'));

  test('AVIF', async () => looksRight(await add(await picture().avif().toBuffer(), 'a.avif'), 'image/avif'));

  test('BMP, made by another program', async () => {
    writeFileSync(at('a.png'), await picture().png().toBuffer());
    execFileSync('ffmpeg', ['-loglevel', 'error', '-y', '-i', at('a.png'), at('a.bmp')]);
    await looksRight(await add(read('a.bmp'), 'a.bmp'), 'image/bmp');
  });

  test('HEIC, as telephones make it', async () => {
    writeFileSync(at('b.png'), await picture().png().toBuffer());
    execFileSync('heif-enc', ['-q', '80', '-o', at('b.heic'), at('b.png')], { stdio: 'ignore' });
    await looksRight(await add(read('b.heic'), 'IMG_0001.HEIC'), 'image/heic');
  });

  test('TIFF, all its pages', async () => {
    for (const [i, size] of [
      [400, 300],
      [300, 400],
      [500, 200],
    ].entries())
      writeFileSync(at(`t${i}.png`), await picture(size[0], size[1]).png().toBuffer());
    // Pages lie one below the other in what it is made from.
    const pages = await Promise.all(
      [0, 1, 2].map((i) =>
        sharp(read(`t${i}.png`))
          .resize(400, 300, { fit: 'fill' })
          .removeAlpha()
          .raw()
          .toBuffer(),
      ),
    );
    const tiff = await sharp(Buffer.concat(pages), {
      raw: { width: 400, height: 900, channels: 3, pageHeight: 300 },
    })
      .tiff({ compression: 'lzw' })
      .toBuffer();
    await looksRight(await add(tiff, 'scan.tif'), 'image/tiff', 3);
  });

  test('SVG, without fetching what it names', async () => {
    const asked: string[] = [];
    const elsewhere = createServer((req, res) => {
      asked.push(req.url!);
      res.end();
    });
    await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve));
    const { port } = elsewhere.address() as AddressInfo;
    const svg = `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="400" height="300">
      <image xlink:href="http://127.0.0.1:${port}/seen.png" x="300" width="50" height="50"/><image href="file:///etc/passwd" width="9" height="9"/>
      <style>@import url(http://127.0.0.1:${port}/style.css);</style><rect width="200" height="300" fill="#102030"/></svg>`;
    await looksRight(await add(new TextEncoder().encode(svg), 'map.svg'), 'image/svg+xml');
    elsewhere.close();
    expect(asked).toEqual([]);
  });
});

describe('a photo that is slightly damaged', () => {
  const photo = () => picture(1600, 1200).jpeg({ quality: 90 }).toBuffer();

  test('is shown as far as it goes, with a word that some is missing; the file stays as it came', async () => {
    const whole = await photo();
    const cut = new Uint8Array(whole.subarray(0, Math.floor(whole.length * 0.7)));
    const state = await add(cut, 'cut.jpg');
    expect(state).toMatchObject({ shows: 'pages', trouble: 'part-missing', pages: 1, bytes: cut.length });
    const original = await student.raw('GET', `/api/documents/${state.id}/original`);
    expect(new Uint8Array(await original.arrayBuffer())).toEqual(cut);
  });

  test('one byte that is another: it has pages', async () => {
    const whole = new Uint8Array(await photo());
    whole[Math.floor(whole.length / 2)]! ^= 0x41;
    expect(await add(whole, 'flipped.jpg')).toMatchObject({ shows: 'pages', pages: 1 });
  });

  test('a whole one says nothing of the kind', async () => {
    expect(await add(new Uint8Array(await photo()), 'whole.jpg')).toMatchObject({ trouble: null });
  });
});

describe('text as other machines write it', () => {
  const words = async (bytes: Uint8Array, name: string) => {
    const state = await add(bytes, name);
    expect(state).toMatchObject({ type: 'text/plain', shows: 'pages' });
    const { body } = await student.call('documentText', { params: { documentId: state.id } });
    return body[0].words.map((w: { text: string }) => w.text).join(' ');
  };
  const SAID = 'Wir gingen über den Hügel, größer als je.';

  test.each([
    ['Latin-1', Buffer.from(`${SAID}\n`, 'latin1')],
    ['UTF-16 with its mark', Buffer.from(`\ufeff${SAID}\n`, 'utf16le')],
    ['UTF-16 the other way round', Buffer.from(`\ufeff${SAID}\n`, 'utf16le').swap16()],
    ['UTF-16 without a mark', Buffer.from(`${SAID}\n`, 'utf16le')],
  ] as const)('%s', async (name, bytes) => {
    expect(await words(new Uint8Array(bytes), `${name}.txt`)).toBe(SAID);
  });

  test('what is no text stays what it is', async () => {
    const bytes = new Uint8Array(512).map((_, i) => (i * 37) % 256);
    const laid = await student.upload(copyId, bytes, 'noise.txt');
    expect(laid.body).toMatchObject({ shows: 'nothing', trouble: 'unknown-kind' });
  });
});

import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { copyFile, mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import exceljs from 'exceljs';
import sharp from 'sharp';
import { officeIn } from './office.ts';

const run = promisify(execFile);

/** Office documents, a photo and a recording that this project's code did not make. */
export interface MadeOffice {
  /** A worksheet with six questions, made by LibreOffice. */
  readonly docx: string;
  readonly odt: string;
  readonly rtf: string;
  readonly pptx: string;
  /** The same in the forms of before 2007. */
  readonly doc: string;
  readonly ppt: string;
  /** Two sheets, “Rain” and, far wider than a page, “Days”. */
  readonly xlsx: string;
  readonly ods: string;
  readonly xls: string;
  readonly csv: string;
  /** A JPEG lying on its side, upright by its EXIF. */
  readonly photo: string;
  readonly png: string;
  readonly webp: string;
  readonly wav: string;
  readonly webm: string;
}

const NAMES: Readonly<Record<keyof MadeOffice, string>> = {
  docx: 'Reading the map.docx',
  odt: 'page.odt',
  rtf: 'page.rtf',
  pptx: 'slides.pptx',
  doc: 'page.doc',
  ppt: 'slides.ppt',
  xlsx: 'rain.xlsx',
  ods: 'rain.ods',
  xls: 'rain.xls',
  csv: 'rain.csv',
  photo: 'photo.jpg',
  png: 'sketch.png',
  webp: 'sketch.webp',
  wav: 'spoken.wav',
  webm: 'walk.webm',
};

/** A film that ffmpeg made once, shipped with the demo school. */
const WALK = fileURLToPath(new URL('../../../school/assets/walk.webm', import.meta.url));

const rule = '_'.repeat(60);
const WORKSHEET = `<html><head><meta charset="utf-8"></head><body><h1>Reading the map</h1>
<p>1. Name the hut in square 34 76. (1 point)</p><p>${'_'.repeat(28)}</p>
<p>2. Distances on the island</p>
<p>2 a) How far is it from Fennel Point to Tarn Hut? (2 points)</p><p>${'_'.repeat(16)} km</p>
<p>2 b) How long do you walk? (1 point)</p><p>${'_'.repeat(16)} minutes</p>
<p>3. Which way does the stream run? (1 point)</p><p>${'_'.repeat(28)}</p>
<p>4. Why do we read eastings before northings? (4 points)</p><p>${rule}</p><p>${rule}</p><p>${rule}</p>
<p>5. Draw the map sign for a hut. (1 point)</p>
<table border="1" width="300" cellspacing="0"><tr><td height="90"></td></tr></table></body></html>`;

/** Makes the files once into `folder` and gives their paths. */
export async function makeOffice(folder: string): Promise<MadeOffice> {
  const at = (name: string) => join(folder, name);
  const made = Object.fromEntries(
    Object.entries(NAMES).map(([key, name]) => [key, at(name)]),
  ) as unknown as MadeOffice;
  if (Object.values(made).every((path) => existsSync(path))) return made;
  await rm(folder, { recursive: true, force: true });
  await mkdir(folder, { recursive: true });
  const office = officeIn(folder);
  await writeFile(at('worksheet.html'), WORKSHEET);
  await office('worksheet.html', 'docx:MS Word 2007 XML');
  await rename(at('worksheet.docx'), made.docx);
  await office(NAMES.docx, 'odt:writer8');
  await rename(at('Reading the map.odt'), made.odt);
  await office(NAMES.docx, 'rtf:Rich Text Format');
  await rename(at('Reading the map.rtf'), made.rtf);
  await writeFile(at('slides.fodp'), SLIDES);
  await office('slides.fodp', 'pptx:Impress MS PowerPoint 2007 XML');
  await office('slides.fodp', 'ppt:MS PowerPoint 97');
  await office(NAMES.docx, 'doc:MS Word 97');
  await rename(at('Reading the map.doc'), made.doc);
  await rainBook().xlsx.writeFile(made.xlsx);
  await office(NAMES.xlsx, 'ods:calc8');
  await office(NAMES.xlsx, 'xls:MS Excel 97');
  await writeFile(made.csv, 'Month;Rain (mm)\r\nMarch;71,5\r\nApril;=1+1\r\n');
  // Red to the left, blue to the right; the JPEG is stored turned and says so.
  await writeFile(
    at('sketch.svg'),
    '<svg xmlns="http://www.w3.org/2000/svg" width="600" height="400"><rect width="300" height="400" fill="#c03030"/><rect x="300" width="300" height="400" fill="#3030c0"/></svg>',
  );
  await run('rsvg-convert', ['-o', made.png, at('sketch.svg')]);
  await sharp(made.png).webp().toFile(made.webp);
  // Stored a quarter turned to the left; 6: to be turned a quarter clockwise when shown.
  await sharp(made.png).rotate(-90).withMetadata({ orientation: 6 }).jpeg().toFile(made.photo);
  await writeFile(made.wav, tone(330, 1));
  await copyFile(WALK, made.webm);
  return made;
}

function rainBook(): exceljs.Workbook {
  const book = new exceljs.Workbook();
  book.addWorksheet('Rain').addRows([
    ['Month', 'Rain (mm)'],
    ['March', 71.5],
    ['April', 48],
  ]);
  const days = Array.from({ length: 60 }, (_, i) => `Day ${i + 1}`);
  book.addWorksheet('Days').addRows([days, days.map((_, i) => i * 7)]);
  return book;
}

const SLIDES = `<?xml version="1.0" encoding="UTF-8"?>
<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" office:version="1.2" office:mimetype="application/vnd.oasis.opendocument.presentation">
<office:automatic-styles><style:page-layout style:name="p"/></office:automatic-styles>
<office:master-styles><style:master-page style:name="m" style:page-layout-name="p"/></office:master-styles>
<office:body><office:presentation>
<draw:page draw:name="one" draw:master-page-name="m"><draw:frame svg:x="2cm" svg:y="2cm" svg:width="18cm" svg:height="3cm"><draw:text-box><text:p>Our island</text:p></draw:text-box></draw:frame></draw:page>
<draw:page draw:name="two" draw:master-page-name="m"><draw:frame svg:x="2cm" svg:y="2cm" svg:width="18cm" svg:height="3cm"><draw:text-box><text:p>The summit</text:p></draw:text-box></draw:frame></draw:page>
</office:presentation></office:body></office:document>`;

/** A tone as 16-bit mono PCM in a WAV file. */
function tone(hertz: number, seconds: number): Buffer {
  const rate = 16_000;
  const samples = rate * seconds;
  const out = Buffer.alloc(44 + 2 * samples);
  out.write('RIFF', 0);
  out.writeUInt32LE(36 + 2 * samples, 4);
  out.write('WAVEfmt ', 8);
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(1, 22);
  out.writeUInt32LE(rate, 24);
  out.writeUInt32LE(2 * rate, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36);
  out.writeUInt32LE(2 * samples, 40);
  for (let i = 0; i < samples; i++)
    out.writeInt16LE(Math.round(12_000 * Math.sin((2 * Math.PI * hertz * i) / rate)), 44 + 2 * i);
  return out;
}

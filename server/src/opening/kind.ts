import { open, readFile } from 'node:fs/promises';
import type { NoPages } from '@jotmark/core';
import { csvFilter, HEAD_BYTES } from './csv-look.ts';
import { isWideText } from './text-bytes.ts';
import { lookIntoZip } from './zip-look.ts';

export type Family = 'pdf' | 'picture' | 'office' | 'spreadsheet' | 'sound' | 'film' | 'other';

/** What a file is, told by its content; its name decides nothing. */
export interface Kind {
  readonly family: Family;
  readonly type: string;
  /** LibreOffice's name for the format, of an office document. */
  readonly filter: string | null;
  /** Of `other`: why it has no pages. */
  readonly trouble: NoPages | null;
}

const kind = (family: Family, type: string, filter: string | null = null): Kind => ({
  family,
  type,
  filter,
  trouble: null,
});
const other = (type: string, trouble: NoPages): Kind => ({ family: 'other', type, filter: null, trouble });

const ODF: Readonly<Record<string, string>> = {
  'application/vnd.oasis.opendocument.text': 'writer8',
  'application/vnd.oasis.opendocument.presentation': 'impress8',
};

/** Whatever letters it comes in, it is converted as UTF-8: see `text-bytes.ts`. */
const PLAIN_TEXT = kind('office', 'text/plain', 'Text (encoded):UTF8,LF,Liberation Sans,');

/** The first element decides: a page that has a drawing in it is no drawing. */
const isSvg = (latin: string): boolean =>
  /^(\xef\xbb\xbf)?\s*(<\?xml[^>]*\?>\s*)?(<!--[\s\S]*?-->\s*|<!DOCTYPE svg[^>[]*>\s*)*<svg[\s>]/i.test(
    latin,
  );

/** [MS-BMP]: the length stands behind the letters, and the header says how long it is. */
const isBitmap = (head: Buffer): boolean =>
  head.length > 26 &&
  head.toString('latin1', 0, 2) === 'BM' &&
  [12, 40, 52, 56, 64, 108, 124].includes(head.readUInt32LE(14));

const SHEETS = 'application/vnd.oasis.opendocument.spreadsheet';

/** Reads the first bytes, and of a zip its list of contents. A zip that would unpack to far too much throws `file-bomb`. */
export async function kindOf(path: string, name: string): Promise<Kind> {
  const head = await firstBytes(path, HEAD_BYTES);
  const latin = head.toString('latin1');
  const at = (offset: number, text: string) => latin.startsWith(text, offset);
  if (latin.slice(0, 1024).includes('%PDF-')) return kind('pdf', 'application/pdf');
  if (at(0, '\xff\xd8\xff')) return kind('picture', 'image/jpeg');
  if (at(0, '\x89PNG\r\n\x1a\n')) return kind('picture', 'image/png');
  if (at(0, 'RIFF') && at(8, 'WEBP')) return kind('picture', 'image/webp');
  if (at(0, 'GIF87a') || at(0, 'GIF89a')) return kind('picture', 'image/gif');
  if (at(0, 'II*\0') || at(0, 'MM\0*')) return kind('picture', 'image/tiff');
  if (isBitmap(head)) return kind('picture', 'image/bmp');
  if (at(0, 'RIFF') && at(8, 'WAVE')) return kind('sound', 'audio/wav');
  if (at(0, 'fLaC')) return kind('sound', 'audio/flac');
  if (at(0, 'ID3') || (head[0] === 0xff && (head[1]! & 0xe6) === 0xe2)) return kind('sound', 'audio/mpeg');
  if (at(0, 'OggS')) return latin.includes('theora') ? kind('film', 'video/ogg') : kind('sound', 'audio/ogg');
  if (at(0, '\x1a\x45\xdf\xa3'))
    return /V_VP[89]|V_AV1|V_MPEG/.test(latin) ? kind('film', 'video/webm') : kind('sound', 'audio/webm');
  if (at(4, 'ftyp')) return isoMedia(latin.slice(8, 12));
  if (at(0, '{\\rtf')) return kind('office', 'application/rtf', 'Rich Text Format');
  if (at(0, 'PK\x03\x04')) return zipKind(path, name);
  if (at(0, '\xd0\xcf\x11\xe0')) return compoundKind(path);
  if (isWideText(head)) return PLAIN_TEXT;
  if (isText(head) && isSvg(latin)) return kind('picture', 'image/svg+xml');
  if (isText(head) || isWesternText(head)) {
    const table = csvFilter(head);
    if (table) return kind('spreadsheet', 'text/csv', table);
  }
  if (isText(head) || isWesternText(head)) return PLAIN_TEXT;
  return other('application/octet-stream', 'unknown-kind');
}

/** The ISO base media format carries sound, film and the photos of some telephones, told by its brand. */
function isoMedia(brand: string): Kind {
  if (brand === 'avif') return kind('picture', 'image/avif');
  if (/^(heic|heix|hevc|heim|heis|mif1|msf1)/.test(brand)) return kind('picture', 'image/heic');
  if (/^M4[AB]/.test(brand)) return kind('sound', 'audio/mp4');
  return brand.startsWith('qt') ? kind('film', 'video/quicktime') : kind('film', 'video/mp4');
}

async function zipKind(path: string, name: string): Promise<Kind> {
  const zip = await lookIntoZip(path, name);
  // Its list of contents stands at the end.
  if (!zip) return other('application/zip', 'cut-off');
  const filter = ODF[zip.mimetype];
  if (filter) return kind('office', zip.mimetype, filter);
  const office = 'application/vnd.openxmlformats-officedocument';
  if (zip.names.has('word/document.xml'))
    return kind('office', `${office}.wordprocessingml.document`, 'MS Word 2007 XML');
  if (zip.mimetype === SHEETS) return kind('spreadsheet', SHEETS, 'calc8');
  if (zip.names.has('xl/workbook.xml'))
    return kind('spreadsheet', `${office}.spreadsheetml.sheet`, 'Calc MS Excel 2007 XML');
  if (zip.names.has('ppt/presentation.xml'))
    return kind('office', `${office}.presentationml.presentation`, 'Impress MS PowerPoint 2007 XML');
  // A document has its parts listed; one without the part that is the document is broken.
  return other(
    'application/zip',
    zip.mimetype || zip.names.has('[Content_Types].xml') ? 'not-converted' : 'unknown-kind',
  );
}

/** Streams by which a compound file ([MS-CFB], the container of office documents before 2007) says what it holds; their names stand in it in UTF-16. */
const STREAMS: readonly (readonly [stream: string, Kind])[] = [
  ['EncryptedPackage', other('application/x-ole-storage', 'password')],
  ['WordDocument', kind('office', 'application/msword', 'MS Word 97')],
  ['PowerPoint Document', kind('office', 'application/vnd.ms-powerpoint', 'MS PowerPoint 97')],
  ['Workbook', kind('spreadsheet', 'application/vnd.ms-excel', 'MS Excel 97')],
  ['Book', kind('spreadsheet', 'application/vnd.ms-excel', 'MS Excel 95')],
];

async function compoundKind(path: string): Promise<Kind> {
  const bytes = await readFile(path);
  const found = STREAMS.find(([stream]) => bytes.includes(Buffer.from(`${stream}\0`, 'utf16le')));
  return found?.[1] ?? other('application/x-ole-storage', 'unknown-kind');
}

/** Letters of one byte each, as old spreadsheets write them. */
const isWesternText = (head: Buffer): boolean =>
  head.length > 0 && head.every((b) => b === 9 || b === 10 || b === 13 || b >= 32);

/** UTF-8 without control characters other than tabs and ends of lines. */
function isText(head: Buffer): boolean {
  try {
    // The last letter may be cut by the buffer's end.
    const text = new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: true });
    // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
    return text.length > 0 && !/[\u0000-\u0008\u000b\u000e-\u001a\u001c-\u001f]/.test(text);
  } catch {
    return false;
  }
}

async function firstBytes(path: string, count: number): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(count), 0, count, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

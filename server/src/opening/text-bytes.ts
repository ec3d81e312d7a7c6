import { open, readFile, writeFile } from 'node:fs/promises';

/** Text larger than this is no text that anybody marks; it is converted as it came. */
const MOST_BYTES = 20 * 1024 * 1024;
const HEAD = 4096;

type Wide = 'utf-16le' | 'utf-16be';

/** Which UTF-16 it is, by its mark, or by where its zeros stand; null: it is none. */
function wideOf(head: Buffer): Wide | null {
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le';
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be';
  const pairs = Math.floor(head.length / 2);
  if (pairs < 4) return null;
  let [even, odd] = [0, 0];
  for (let i = 0; i < pairs * 2; i += 2) {
    if (head[i] === 0) even++;
    if (head[i + 1] === 0) odd++;
  }
  // Of letters as most of Europe writes them one byte of the two is zero.
  if (odd > 0.7 * pairs && even === 0) return 'utf-16le';
  return even > 0.7 * pairs && odd === 0 ? 'utf-16be' : null;
}

function decodeWide(bytes: Buffer, wide: Wide): string | null {
  const even = bytes.subarray(0, bytes.length - (bytes.length % 2));
  const little = wide === 'utf-16le' ? even : Buffer.from(even).swap16();
  try {
    return new TextDecoder('utf-16le', { fatal: true }).decode(little, { stream: true });
  } catch {
    return null;
  }
}

/** Whether these first bytes are text in UTF-16. */
export function isWideText(head: Buffer): boolean {
  const wide = wideOf(head);
  const text = wide && decodeWide(head, wide);
  // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
  return !!text && !/[\u0000-\u0008\u000b\u000e-\u001f]/.test(text);
}

/** Writes a file of text anew in UTF-8 where it came in UTF-16, or with a byte a letter as old Windows has it; whatever is no text, or UTF-8 already, stays as it is. */
export async function textAsUtf8(path: string): Promise<void> {
  const file = await open(path);
  const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0).finally(() => file.close());
  const head = buffer.subarray(0, bytesRead);
  const wide = isWideText(head) ? wideOf(head) : null;
  const western = !wide && head.length > 0 && head.every((b) => b === 9 || b === 10 || b === 13 || b >= 32);
  // A PDF has its version before anything else, and text of other programs a brace.
  if (!wide && (!western || /^(%PDF|\{\\rtf|<)/.test(head.toString('latin1', 0, 8)))) return;
  const bytes = await readFile(path);
  if (bytes.length > MOST_BYTES) return;
  if (wide) {
    const text = decodeWide(bytes, wide);
    if (text !== null) await writeFile(path, text.replace(/^\ufeff/, ''));
    return;
  }
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    await writeFile(path, new TextDecoder('windows-1252').decode(bytes));
  }
}

import * as z from 'zod';

/** Some words that are said, and when they begin, in ms from the recording's beginning. */
export const Caption = z.object({ at: z.int().min(0), words: z.string().min(1).max(500) });
export type Caption = z.infer<typeof Caption>;
export const MOST_CAPTIONS = 400;
/** The most letters of all captions of a recording together. */
export const MOST_CAPTION_LETTERS = 12_000;

/** Captions as the text in which they are corrected: one a line. */
export const captionText = (captions: readonly Caption[]): string => captions.map((c) => c.words).join('\n');

/**
 * The captions of a recording of `ms` after its text was written or corrected. Lines that stayed keep their moments; those between them share
 * the time between by their letters. Of an untimed text each sentence becomes a caption.
 */
export function captionsOf(text: string, ms: number, before: readonly Caption[]): Caption[] {
  const lines = linesOf(text);
  const at = new Array<number | null>(lines.length).fill(null);
  let from = 0;
  for (const [i, line] of lines.entries()) {
    const was = before.findIndex((c, k) => k >= from && c.words === line);
    if (was < 0) continue;
    at[i] = before[was]!.at;
    from = was + 1;
  }
  // A line that was corrected stands where it stood.
  if (lines.length === before.length) for (const [i, c] of before.entries()) at[i] ??= c.at;
  return spread(lines, at, ms);
}

/** Gives each line without a moment its share of the time between its neighbours. */
function spread(lines: readonly string[], at: readonly (number | null)[], ms: number): Caption[] {
  const out: Caption[] = [];
  for (let i = 0; i < lines.length; ) {
    const known = at[i];
    if (known !== null && known !== undefined) {
      out.push({ at: Math.max(known, out.at(-1)?.at ?? 0), words: lines[i]! });
      i++;
      continue;
    }
    let end = i;
    while (end < lines.length && at[end] === null) end++;
    // The line before has some of the time as well.
    const first = i > 0 ? i - 1 : i;
    const from = out.at(-1)?.at ?? 0;
    const to = Math.max(from, at[end] ?? ms);
    const letters = lines.slice(first, end).reduce((sum, line) => sum + line.length + 1, 0);
    let passed = i > first ? lines[first]!.length + 1 : 0;
    for (; i < end; i++) {
      out.push({ at: Math.round(from + ((to - from) * passed) / letters), words: lines[i]! });
      passed += lines[i]!.length + 1;
    }
  }
  return out;
}

/** Lines, and within them sentences; what is longer than a caption may be is cut between words. */
function linesOf(text: string): string[] {
  const sentences = text
    .slice(0, MOST_CAPTION_LETTERS)
    .split(/\n+|(?<=[.!?…])\s+/)
    .map((line) => line.trim().replace(/\s+/g, ' '))
    .filter((line) => line !== '');
  const lines = sentences.flatMap((line) => line.match(/.{1,480}(?:\s|$)|.{1,480}/g) ?? []);
  return lines.map((line) => line.trim()).slice(0, MOST_CAPTIONS);
}

/** The index of the caption that is said at this moment; −1 before the first. */
export function captionAt(captions: readonly Caption[], ms: number): number {
  let i = captions.length - 1;
  while (i >= 0 && captions[i]!.at > ms) i--;
  return i;
}

import * as z from 'zod';
import { DocumentId } from '../ids/id.ts';
import { SafeAddress } from '../rich/rich-text.ts';
import { listOf } from '../versions/list.ts';
import { MOST_OF_A_NOTE } from './own-notes.ts';

/**
 * What a student wrote into an answer that grows, as a value: paragraphs, headings, lists, tables and pictures. It is what the shared text of the
 * editor reads as; the trail, the pages and the desk know this and nothing of the editor.
 */
export interface LongText {
  readonly type: 'doc';
  readonly content: readonly LongBlock[];
}
export type LongBlock =
  | { readonly type: 'paragraph'; readonly content: readonly LongInline[] }
  | { readonly type: 'heading'; readonly level: 2 | 3; readonly content: readonly LongInline[] }
  | { readonly type: 'list'; readonly numbered: boolean; readonly items: readonly LongItem[] }
  | { readonly type: 'table'; readonly rows: readonly (readonly LongCell[])[] }
  | LongPicture;
/** What stands in one item of a list. */
export type LongItem = readonly LongBlock[];
export interface LongCell {
  /** A cell that names its row or column. */
  readonly head: boolean;
  readonly content: readonly LongBlock[];
}
export interface LongPicture {
  readonly type: 'picture';
  readonly document: DocumentId;
  readonly alt: string;
  /** Its size in pixels, for its shape and for how large it is shown. */
  readonly wide: number;
  readonly high: number;
}
/** Words of one form; a line that was broken by hand has "\n" in its text. */
export interface LongInline {
  readonly text: string;
  readonly bold?: boolean | undefined;
  readonly italic?: boolean | undefined;
  readonly href?: string | undefined;
  /** What its student noted about these words. */
  readonly note?: string | undefined;
}

/** Letters that one text may have: a hundred thousand words. */
export const MOST_TEXT = 700_000;
/** Pictures that one text may show. */
export const MOST_PICTURES = 200;
/** Lists in lists, and what stands in cells, down to this. */
export const DEEPEST_TEXT = 6;
/** Sides of a picture, in pixels. */
export const MOST_PIXELS = 20_000;
const MOST_BLOCKS = 50_000;

const Inline = z.object({
  text: z.string().max(MOST_TEXT),
  bold: z.boolean().optional(),
  italic: z.boolean().optional(),
  href: SafeAddress.optional(),
  note: z.string().max(MOST_OF_A_NOTE).optional(),
});
const inlines = listOf(Inline, MOST_BLOCKS);
const side = z.number().min(1).max(MOST_PIXELS);

function blockSchema(depth: number): z.ZodType<LongBlock> {
  const flat = [
    z.object({ type: z.literal('paragraph'), content: inlines }),
    z.object({ type: z.literal('heading'), level: z.literal([2, 3]), content: inlines }),
    z.object({
      type: z.literal('picture'),
      document: DocumentId,
      alt: z.string().max(500),
      wide: side,
      high: side,
    }),
  ] as const;
  if (depth === 0) return z.discriminatedUnion('type', flat) as z.ZodType<LongBlock>;
  const within = listOf(blockSchema(depth - 1), MOST_BLOCKS);
  return z.discriminatedUnion('type', [
    ...flat,
    z.object({ type: z.literal('list'), numbered: z.boolean(), items: listOf(within, MOST_BLOCKS) }),
    z.object({
      type: z.literal('table'),
      rows: listOf(listOf(z.object({ head: z.boolean(), content: within }), 60), 5000),
    }),
  ]) as z.ZodType<LongBlock>;
}

export const LongText: z.ZodType<LongText> = z.object({
  type: z.literal('doc'),
  content: listOf(blockSchema(DEEPEST_TEXT), MOST_BLOCKS),
});

export const EMPTY_TEXT: LongText = { type: 'doc', content: [] };

const wordsOf = (content: readonly LongInline[]): string => content.map((i) => i.text).join('');

/**
 * The words alone: a line a paragraph, heading or item; the cells of a row beside each other, with tabs between. It is what is counted, searched and
 * kept in the trail.
 */
export function plainText(text: Pick<LongText, 'content'>): string {
  const lines: string[] = [];
  const within = (blocks: readonly LongBlock[]): void => {
    for (const block of blocks) {
      if (block.type === 'picture') continue;
      if (block.type === 'list') for (const item of block.items) within(item);
      else if (block.type === 'table')
        for (const row of block.rows)
          lines.push(row.map((cell) => plainText(cell).replaceAll('\n', ' ')).join('\t'));
      else lines.push(wordsOf(block.content));
    }
  };
  within(text.content);
  return lines.join('\n');
}

/** Plain words as a text: a paragraph a line. Law: `plainText(textOfPlain(words)) === words`. */
export const textOfPlain = (words: string): LongText => ({
  type: 'doc',
  content: words
    .split('\n')
    .map((line) => ({ type: 'paragraph', content: line === '' ? [] : [{ text: line }] })),
});

/** How many words there are: runs of letters, digits and what joins them ("don't", "twenty-two"); scripts without spaces count a letter each. */
export function countWords(words: string): number {
  let count = 0;
  for (const run of words.match(RUN) ?? []) count += UNSPACED.test(run) ? [...run].length : 1;
  return count;
}
const RUN = /[\p{L}\p{N}\p{M}]+(?:['’.,\-‐‑·][\p{L}\p{N}\p{M}]+)*/gu;
const UNSPACED = /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}]/u;

/** The pictures it shows, in their order, each once. */
export function picturesOf(text: Pick<LongText, 'content'>): DocumentId[] {
  const out = new Set<DocumentId>();
  const within = (blocks: readonly LongBlock[]): void => {
    for (const block of blocks)
      if (block.type === 'picture') out.add(block.document);
      else if (block.type === 'list') block.items.forEach(within);
      else if (block.type === 'table')
        for (const row of block.rows) for (const cell of row) within(cell.content);
  };
  within(text.content);
  return [...out];
}

/** What was noted in it, in its order. */
export function notesIn(text: Pick<LongText, 'content'>): string[] {
  return text.content.flatMap((block): string[] => {
    if (block.type === 'picture') return [];
    if (block.type === 'list') return block.items.flatMap((content) => notesIn({ content }));
    if (block.type === 'table') return block.rows.flatMap((row) => row.flatMap((cell) => notesIn(cell)));
    return block.content.flatMap((run) => run.note ?? []);
  });
}

/** Whether nothing stands in it: no letter and no picture. */
export const isEmptyText = (text: LongText): boolean =>
  plainText(text).trim() === '' && picturesOf(text).length === 0;

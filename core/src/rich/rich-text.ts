import * as z from 'zod';
import { DocumentId } from '../ids/id.ts';
import { listOf } from '../versions/list.ts';

/**
 * Instructions as a value: a small tree of paragraphs, headings, lists and pictures. It is checked at the door and drawn by
 * code of ours, node by node; no HTML is ever stored or shown.
 */
export type RichMark = { type: 'bold' } | { type: 'italic' } | { type: 'link'; attrs: { href: string } };
export interface RichInline {
  type: 'text' | 'hardBreak';
  text?: string | undefined;
  marks?: RichMark[] | undefined;
}
export type RichBlock =
  | { type: 'paragraph'; content?: RichInline[] | undefined }
  | { type: 'heading'; attrs: { level: number }; content?: RichInline[] | undefined }
  | { type: 'bulletList'; content: RichItem[] }
  | { type: 'orderedList'; content: RichItem[] }
  | { type: 'image'; attrs: { src: string; alt: string | null } };
export interface RichItem {
  type: 'listItem';
  content: RichBlock[];
}
export interface RichText {
  type: 'doc';
  content: RichBlock[];
}

/** An address that is safe to follow: the web, or mail. */
export const SafeAddress = z
  .string()
  .trim()
  .max(2000)
  .refine(
    (text) => /^(https?:\/\/|mailto:)/i.test(text) && URL.canParse(text),
    'an address that begins with https://',
  );

/** An address of the web alone: what is handed in or laid beside work is looked at, not written to. */
export const WebAddress = SafeAddress.refine(
  (text) => /^https?:/i.test(text),
  'an address that begins with https://',
);

/** A picture is a document of ours, by its id; addresses of other servers are not taken. */
const PictureSource = z
  .string()
  .regex(/^document:/)
  .refine((s) => DocumentId.safeParse(s.slice(9)).success);

const Mark: z.ZodType<RichMark> = z.union([
  z.object({ type: z.literal('bold') }),
  z.object({ type: z.literal('italic') }),
  z.object({ type: z.literal('link'), attrs: z.object({ href: SafeAddress }) }),
]);
const Inline: z.ZodType<RichInline> = z.object({
  type: z.enum(['text', 'hardBreak']),
  text: z.string().max(20_000).optional(),
  marks: listOf(Mark, 5).optional(),
});
const inlines = listOf(Inline, 2000).optional();

/** Lists in lists, down to three. */
function block(depth: number): z.ZodType<RichBlock> {
  const simple = [
    z.object({ type: z.literal('paragraph'), content: inlines }),
    z.object({
      type: z.literal('heading'),
      attrs: z.object({ level: z.int().min(2).max(3) }),
      content: inlines,
    }),
    z.object({
      type: z.literal('image'),
      attrs: z.object({ src: PictureSource, alt: z.string().max(500).nullable() }),
    }),
  ] as const;
  if (depth === 0) return z.union(simple) as z.ZodType<RichBlock>;
  const item = z.object({
    type: z.literal('listItem'),
    content: listOf(block(depth - 1), 50, 1),
  });
  return z.union([
    ...simple,
    z.object({ type: z.enum(['bulletList', 'orderedList']), content: listOf(item, 300, 1) }),
  ]) as z.ZodType<RichBlock>;
}

export const RichText: z.ZodType<RichText> = z.object({
  type: z.literal('doc'),
  content: listOf(block(3), 500),
});

export const EMPTY_RICH: RichText = { type: 'doc', content: [] };

/** Plain words as rich text: a paragraph a line. */
export function richFromPlain(text: string): RichText {
  return {
    type: 'doc',
    content: text
      .split('\n')
      .filter((line) => line.trim() !== '')
      .map((line) => ({ type: 'paragraph', content: [{ type: 'text', text: line }] })),
  };
}

/** The words alone, a line a block: for a short look, and for search. */
export function plainOf(rich: RichText): string {
  const lines: string[] = [];
  const walk = (b: RichBlock): void => {
    if (b.type === 'image') return;
    if (b.type === 'bulletList' || b.type === 'orderedList') {
      for (const item of b.content) item.content.forEach(walk);
      return;
    }
    const inline: RichInline[] = b.content ?? [];
    lines.push(inline.map((i) => (i.type === 'hardBreak' ? '\n' : (i.text ?? ''))).join(''));
  };
  rich.content.forEach(walk);
  return lines.join('\n').trim();
}

/** The ids of the pictures it shows. */
export function picturesIn(rich: RichText): DocumentId[] {
  const out: DocumentId[] = [];
  const walk = (b: RichBlock): void => {
    if (b.type === 'image') out.push(b.attrs.src.slice(9) as DocumentId);
    else if (b.type === 'bulletList' || b.type === 'orderedList')
      for (const i of b.content) i.content.forEach(walk);
  };
  rich.content.forEach(walk);
  return out;
}

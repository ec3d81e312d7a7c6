import * as z from 'zod';
import { DocumentId, MarkId } from '../ids/id.ts';
import { MAX_STROKE_POINTS, POINT_FIELDS } from '../ink/stroke.ts';
import { Quote } from '../passage/quote.ts';
import { BoxSchema } from '../passage/text-layer.ts';
import { FocusName, InkColour } from '../pens/pen.ts';

/** One version number for all kinds; it goes up when a stored mark can no longer be read by the old schema. */
export const MARK_VERSION = 1;

/** Hundredths of a point. A page side is at most 14,400 pt; a stroke may stray a little beyond. */
const Hundredth = z.int().min(-200_000).max(1_640_000);

const StrokePoints = z
  .array(Hundredth)
  .min(POINT_FIELDS)
  .max(MAX_STROKE_POINTS * POINT_FIELDS)
  .refine((p) => p.length % POINT_FIELDS === 0, 'whole points only')
  .refine((p) => p.every((v, i) => i % POINT_FIELDS !== 2 || (v >= 0 && v <= 255)), 'pressure 0…255');

const Coordinate = z.number().min(-2000).max(16_400);

const base = {
  v: z.literal(MARK_VERSION),
  id: MarkId,
  document: DocumentId,
  /** Page of the document, counted from 0. */
  page: z.int().min(0).max(499),
  colour: InkColour,
  focus: FocusName.nullable(),
  /** When it was made, in milliseconds of Unix time by the clock of the device. */
  madeAt: z.int().min(0),
};

/** Words on the page: one band a line, and what they quote. */
export const Passage = z.object({
  on: z.literal('passage'),
  bands: z.array(BoxSchema).min(1).max(500),
  quote: Quote,
});
export type Passage = z.infer<typeof Passage>;

export const Spot = z.object({ on: z.literal('spot'), x: Coordinate, y: Coordinate });

/** A broad stroke of the highlighter where there is no text to snap to. */
export const Free = z.object({
  on: z.literal('free'),
  points: StrokePoints,
  width: z.number().min(1).max(60),
});

export const InkMark = z.object({
  ...base,
  kind: z.literal('ink'),
  points: StrokePoints,
  width: z.number().min(0.2).max(40),
});
export const HighlightMark = z.object({
  ...base,
  kind: z.literal('highlight'),
  place: z.discriminatedUnion('on', [Passage, Free]),
});
export const NoteMark = z.object({
  ...base,
  kind: z.literal('note'),
  place: z.discriminatedUnion('on', [Passage, Spot]),
  words: z.string().max(4000),
});

/** Anything the teacher puts on a page. All that draws, exports or reads marks switches over `kind` exhaustively. */
export const Mark = z.discriminatedUnion('kind', [InkMark, HighlightMark, NoteMark]);
export type Mark = z.infer<typeof Mark>;
export type InkMark = z.infer<typeof InkMark>;
export type HighlightMark = z.infer<typeof HighlightMark>;
export type NoteMark = z.infer<typeof NoteMark>;

/** For the end of an exhaustive switch: the compiler complains when a kind was forgotten. */
export function never(value: never): never {
  throw new Error(`Not a kind we know: ${JSON.stringify(value)}`);
}

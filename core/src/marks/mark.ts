import * as z from 'zod';
import { QuarterTurn } from '../geometry/page-space.ts';
import { DocumentId, MarkId, QuestionId } from '../ids/id.ts';
import { MAX_STROKE_POINTS, POINT_FIELDS } from '../ink/stroke.ts';
import { Quote } from '../passage/quote.ts';
import { BoxSchema } from '../passage/text-layer.ts';
import { FocusName, FocusSign, InkColour } from '../pens/ink-colour.ts';
import { MAX_POINTS } from '../points/points.ts';
import { StampLook } from '../stamps/look.ts';
import { Digest } from '../versions/digest.ts';
import { listOf, numbersOf } from '../versions/list.ts';
import { Recording } from '../voice/recording.ts';

/** One version number for all kinds; it goes up when a stored mark can no longer be read by the old schema, and `readMark` learns one more step. */
export const MARK_VERSION = 2;

/** In hundredths of a point. A page side is at most 14,400 pt; a stroke may stray a little beyond. Every third is a pressure. */
const StrokePoints = numbersOf(
  MAX_STROKE_POINTS * POINT_FIELDS,
  POINT_FIELDS,
  (v, i) => (i % POINT_FIELDS === 2 ? v >= 0 && v <= 255 : v >= -200_000 && v <= 1_640_000),
  POINT_FIELDS,
);

const Coordinate = z.number().min(-2000).max(16_400);

const base = {
  v: z.literal(MARK_VERSION),
  id: MarkId,
  document: DocumentId,
  /** Page of the document, counted from 0. */
  page: z.int().min(0).max(499),
  colour: InkColour,
  focus: FocusName.nullable(),
  /** The sign of its focus. Left out: the one of its colour. */
  sign: FocusSign.optional(),
  /** When it was made, in milliseconds of Unix time by the clock of the device. */
  madeAt: z.int().min(0),
};

/** What somebody answered to a note in another program. */
export const Reply = z.object({
  by: z.string().max(120),
  said: z.string().min(1).max(4000),
  /** In milliseconds of Unix time; 0 where it is not known. */
  at: z.int().min(0),
});
export type Reply = z.infer<typeof Reply>;
/** In the order of time; left out where there are none. */
const Replies = listOf(Reply, 50, 1).optional();

/** Words on the page: one band a line, and what they quote. */
export const Passage = z.object({
  on: z.literal('passage'),
  bands: listOf(BoxSchema, 500, 1),
  quote: Quote,
});
export type Passage = z.infer<typeof Passage>;

export const Spot = z.object({ on: z.literal('spot'), x: Coordinate, y: Coordinate });
export type Spot = z.infer<typeof Spot>;

/** A broad stroke of the highlighter where there is no text to snap to. */
export const Free = z.object({
  on: z.literal('free'),
  points: StrokePoints,
  width: z.number().min(1).max(60),
});

/** A box of a mark's own: its corners in order. */
const OwnBox = BoxSchema.refine(([l, t, r, b]) => l <= r && t <= b, 'left before right, top before bottom');

/** A part of the page, where there is no text to quote. */
export const Area = z.object({ on: z.literal('box'), box: OwnBox });

/** Between two words: after the quoted one, or before it where it is the first. `x` and the line's height are where the caret stands. */
export const Caret = z.object({
  on: z.literal('caret'),
  side: z.enum(['after', 'before']),
  x: Coordinate,
  top: Coordinate,
  bottom: Coordinate,
  quote: Quote,
});
export type Caret = z.infer<typeof Caret>;

/** The longest film or sound that marks are made on, in ms: what a school's evening has. */
export const MOST_FILM_MS = 6 * 3_600_000;
const FilmMs = z.int().min(0).max(MOST_FILM_MS);
/** A moment of a film or a sound that was handed in, in ms from its beginning. It has no pages: `page` is 0. */
export const AtMoment = z.object({ on: z.literal('moment'), at: FilmMs });
export type AtMoment = z.infer<typeof AtMoment>;

const Width = z.number().min(0.2).max(40);
const Ends = { from: z.tuple([Coordinate, Coordinate]), to: z.tuple([Coordinate, Coordinate]), width: Width };
const Framed = { box: OwnBox, width: Width };
export const InkMark = z.object({ ...base, kind: z.literal('ink'), points: StrokePoints, width: Width });
export const HighlightMark = z.object({
  ...base,
  kind: z.literal('highlight'),
  place: z.discriminatedUnion('on', [Passage, Free]),
});
/** Most places one note may stand at beside its first. */
export const MOST_ALSO = 80;
/** Another place of a pattern note, on any page of the same hand-in. */
export const AlsoAt = z.object({
  document: DocumentId,
  page: base.page,
  place: z.discriminatedUnion('on', [Passage, Spot]),
});
export type AlsoAt = z.infer<typeof AlsoAt>;
const Points = z.int().min(-MAX_POINTS).max(MAX_POINTS);
/** Whose points they are, where that was said by hand. Left out: of the question it stands at. Null: of none. */
const ForQuestion = QuestionId.nullable().optional();
export const NoteMark = z.object({
  ...base,
  kind: z.literal('note'),
  place: z.discriminatedUnion('on', [Passage, Spot, Area, AtMoment]),
  words: z.string().max(4000),
  /** Of a pattern note: where the same stands again, in the order it was added. Left out of a note with one place. */
  also: listOf(AlsoAt, MOST_ALSO, 1).optional(),
  /** What is earned with what it says, in hundredths. Left out: nothing. */
  points: Points.optional(),
  question: ForQuestion,
  /** What is said with it: a voice note is a note that is spoken. */
  voice: Recording.optional(),
  replies: Replies,
});
export const LineMark = z.object({ ...base, kind: z.literal('line'), ...Ends });
/** Its head is at `to`. */
export const ArrowMark = z.object({ ...base, kind: z.literal('arrow'), ...Ends });
export const BoxMark = z.object({ ...base, kind: z.literal('box'), ...Framed });
/** The ellipse that fills its box. */
export const RingMark = z.object({ ...base, kind: z.literal('ring'), ...Framed });
/** Page text: words written straight on the page. `x`, `y` is the corner where reading begins, `w` where lines break, `h` what they fill. */
export const TextMark = z.object({
  ...base,
  kind: z.literal('text'),
  x: Coordinate,
  y: Coordinate,
  w: z.number().min(8).max(4000),
  h: z.number().min(4).max(14_400),
  size: z.number().min(4).max(96),
  /** Which way up it was made: the quarter turn in which the page was shown then. */
  turn: QuarterTurn,
  words: z.string().max(2000),
});
/** A small sign round its middle, in a square of `size`, with the points it earns in hundredths; null: none. */
export const StampMark = z.object({
  ...base,
  kind: z.literal('stamp'),
  x: Coordinate,
  y: Coordinate,
  size: z.number().min(4).max(200),
  turn: QuarterTurn,
  look: StampLook,
  points: Points.nullable(),
  question: ForQuestion,
  /** On film and sound: its moment. `x` and `y` mean nothing there. */
  moment: FilmMs.optional(),
});
/** Why something is suggested. Left out: for no reason that was said. */
const Reason = z.string().min(1).max(1000).optional();
const suggested = { reason: Reason, replies: Replies };
/** Suggestions: words to cut, words to add between two others, words to swap for others. */
export const CutMark = z.object({ ...base, kind: z.literal('cut'), place: Passage, ...suggested });
export const AddMark = z.object({
  ...base,
  kind: z.literal('add'),
  place: Caret,
  words: z.string().max(1000),
  ...suggested,
});
export const SwapMark = z.object({
  ...base,
  kind: z.literal('swap'),
  place: Passage,
  words: z.string().max(1000),
  ...suggested,
});

/**
 * What another program put on the page and there is no kind for here: kept whole, shown by its picture, and written out as it came. It has its
 * place and its look from there: it can be picked and taken away, not changed.
 */
export const ForeignMark = z.object({
  ...base,
  kind: z.literal('foreign'),
  box: OwnBox,
  /** What its program calls it: the subtype of its annotation. */
  what: z.string().min(1).max(40),
  /** What it says in words; nothing for most. */
  said: z.string().max(4000),
  /** The annotation with all that it needs, on the page of a PDF of its own: what its bytes are called. */
  pdf: Digest,
  /** How it looks, as a PNG that fills its box; null where nothing of it is seen. */
  picture: Digest.nullable(),
});

/** A stored mark that this version cannot read: kept whole and shown as such. It can be deleted and brought back, nothing else. */
export const UnreadMark = z.object({ ...base, kind: z.literal('unread'), raw: z.string().max(1_000_000) });

const known = [
  InkMark,
  HighlightMark,
  NoteMark,
  LineMark,
  ArrowMark,
  BoxMark,
  RingMark,
  TextMark,
  StampMark,
  CutMark,
  AddMark,
  SwapMark,
  ForeignMark,
] as const;
/** Anything the teacher puts on a page. All that draws, exports or reads marks switches over `kind` exhaustively. */
export const KnownMark = z.discriminatedUnion('kind', known);
export const Mark = z.discriminatedUnion('kind', [...known, UnreadMark]);
export type Mark = z.infer<typeof Mark>;
export type MarkKind = Mark['kind'];
export type InkMark = z.infer<typeof InkMark>;
export type HighlightMark = z.infer<typeof HighlightMark>;
export type NoteMark = z.infer<typeof NoteMark>;
export type LineMark = z.infer<typeof LineMark>;
export type ArrowMark = z.infer<typeof ArrowMark>;
export type BoxMark = z.infer<typeof BoxMark>;
export type RingMark = z.infer<typeof RingMark>;
export type TextMark = z.infer<typeof TextMark>;
export type StampMark = z.infer<typeof StampMark>;
export type CutMark = z.infer<typeof CutMark>;
export type AddMark = z.infer<typeof AddMark>;
export type SwapMark = z.infer<typeof SwapMark>;
export type ForeignMark = z.infer<typeof ForeignMark>;
export type UnreadMark = z.infer<typeof UnreadMark>;

/** Marks whose words stand in the margin beside their place. */
export type MarginMark = NoteMark | AddMark | SwapMark | CutMark;
export const isMarginMark = (mark: Mark): mark is MarginMark =>
  mark.kind === 'note' || mark.kind === 'add' || mark.kind === 'swap' || mark.kind === 'cut';

/** A proposed change of wording. */
export type Suggestion = AddMark | SwapMark | CutMark;
export const isSuggestion = (mark: Mark): mark is Suggestion => isMarginMark(mark) && mark.kind !== 'note';

/** Marks that say something in words of the teacher's. */
export type WordedMark = NoteMark | AddMark | SwapMark | TextMark;
export const isWorded = (mark: Mark): mark is WordedMark => 'words' in mark;

/** A worded mark without words was a slip of the pen: nobody should get one. A note may be spoken instead. */
export const saysNothing = (mark: Mark): boolean =>
  isWorded(mark) && mark.words.trim() === '' && !(mark.kind === 'note' && mark.voice);

/** What is said with a mark; null: nothing. */
export const recordingOf = (mark: Mark): Recording | null =>
  mark.kind === 'note' ? (mark.voice ?? null) : null;

/** For the end of an exhaustive switch: the compiler complains when a kind was forgotten. */
export function never(value: never): never {
  throw new Error(`Not a kind we know: ${JSON.stringify(value)}`);
}

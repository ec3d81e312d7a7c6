import type { Box } from '../geometry/box.ts';
import type { PageFrame } from '../geometry/page-space.ts';
import type { Question } from '../questions/question.ts';

/** A lined page of an answer that grows: A4 upright, in points. The screen and the PDF set it by the same numbers. */
export const LINED = {
  width: 595,
  height: 842,
  left: 62,
  right: 533,
  top: 70,
  /** So far apart the lines stand. */
  leading: 22,
  /** Lines on a page. */
  lines: 32,
  size: 12,
  /** Sizes of headings, by their level. */
  heading: { 2: 17, 3: 13.5 },
  /** A heading of the first level has so many lines' space above, but not at the top of a page. */
  aboveHeading: 1,
  /** Where letters stand in their line, and the rule below them, from the line's top. */
  baseline: 15,
  rule: 18.5,
  /** What stands in a list stands in by so much. */
  indent: 20,
  /** Between the rule of a cell and its words. */
  cell: 5,
} as const;

export const LINED_ROOM = LINED.right - LINED.left;
export const LINED_FRAME: PageFrame = { crop: [0, 0, LINED.width, LINED.height], rotate: 0, userUnit: 1 };
/** Where the lines are. */
export const LINED_BOX: Box = [LINED.left, LINED.top, LINED.right, LINED.top + LINED.lines * LINED.leading];

/** A region from here on is the page itself: its lines begin there and no page is put behind. */
const WHOLE = 0.6;

/**
 * Whether a question's region is a whole page. Then the answer's lines begin on that page; of any other the lines begin on a page behind the
 * worksheet.
 */
export const fillsItsPage = ({ box, answer }: Pick<Question, 'box' | 'answer'>): boolean =>
  answer.kind === 'long' && box[2] - box[0] >= WHOLE * LINED.width && box[3] - box[1] >= WHOLE * LINED.height;

/** CSS pixels of an untouched picture in a point. */
const PIXEL = 0.75;

export interface PictureSize {
  readonly width: number;
  readonly height: number;
  /** Lines that it takes. */
  readonly lines: number;
}

/** How large a picture stands on a lined page: as it is, but no wider than `room` and no higher than a page. In points. */
export function pictureSize(wide: number, high: number, room: number = LINED_ROOM): PictureSize {
  const most = (LINED.lines - 1) * LINED.leading;
  const scale = Math.min(PIXEL, room / wide, most / high);
  const height = high * scale;
  return { width: wide * scale, height, lines: Math.max(1, Math.ceil(height / LINED.leading)) };
}

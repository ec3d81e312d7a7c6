import {
  AnswerText,
  FILE_LIMITS,
  Mark,
  PageFrame,
  PageText,
  QuarterTurn,
  QuestionId,
  Questions,
} from '@jotmark/core';
import * as z from 'zod';

/** What the process that opens files can be asked. Files come and go as paths: it knows no database. */
export const Task = z.discriminatedUnion('op', [
  z.object({ op: z.literal('look'), file: z.string() }),
  z.object({
    op: z.literal('read'),
    file: z.string(),
    out: z.string(),
    shapes: z.boolean(),
    picture: z.string(),
  }),
  z.object({ op: z.literal('picture'), file: z.string(), out: z.string() }),
  z.object({
    op: z.literal('fill'),
    file: z.string(),
    out: z.string(),
    questions: Questions,
    answers: z.record(QuestionId, AnswerText),
    marks: z.array(Mark),
    frames: z.array(PageFrame),
    text: z.array(PageText),
  }),
  z.object({ op: z.literal('read-marks'), file: z.string() }),
  z.object({
    op: z.literal('write-marks'),
    file: z.string(),
    out: z.string(),
    marks: z.array(Mark),
    frames: z.array(PageFrame),
    turns: z.record(z.string(), QuarterTurn),
    document: z.string().nullable(),
    /** As the page's own content, for printing, and not as annotations. */
    flat: z.boolean(),
    author: z.string(),
    /** Written on the pages, with their text to see where; null: the pages carry a name already, or none of ours. */
    name: z.object({ name: z.string().max(300), text: z.array(PageText) }).nullable(),
  }),
]);
export type Task = z.infer<typeof Task>;

export type Answer =
  | { readonly kind: 'progress'; readonly done: number; readonly total: number }
  | { readonly kind: 'done'; readonly result: unknown }
  | { readonly kind: 'failed'; readonly error: string };

/** Of `look`: what decides whether the file is taken at all. */
export const Looked = z.object({ pages: z.int(), longestSide: z.number() });
/** Of `read`: frames, text, and whether the cleaned file was written to `out`. */
export const Read = z.object({
  frames: z.array(PageFrame).max(FILE_LIMITS.pages),
  text: z.array(z.unknown()),
  /** Rules, boxes and form fields, where they were asked for. */
  shapes: z.array(z.unknown()).nullable(),
  cleaned: z.boolean(),
});
/** Of `read-marks`: annotations as marks, by page of the file. */
export const MarksRead = z.object({
  pages: z.array(z.object({ document: z.string(), page: z.int() }).nullable()),
  marks: z.array(Mark),
  unknown: z.array(z.string()),
});
export const Annotated = z.object({ written: z.int() });

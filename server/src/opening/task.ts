import {
  AnswerText,
  CoverSheet,
  Digest,
  DocumentId,
  ErrorBody,
  FILE_LIMITS,
  Flow,
  GridShape,
  LongText,
  Mark,
  NoPages,
  OwnNote,
  PageFrame,
  QuarterTurn,
  QuestionId,
  Questions,
  Recording,
  Shows,
  VoiceType,
} from '@jotmark/core';
import * as z from 'zod';

const file = z.string();
/** Processor time and space, see `programs/failed.ts`. */
const budget = z.object({ cpuMs: z.number(), bytes: z.number() });

/**
 * What the process that opens files can be asked. Files come and go as paths: it knows no database. Text layers are files too: they go from one
 * process to the next without being opened between.
 */
export const Task = z.discriminatedUnion('op', [
  /** Whether a file is taken, and what can be shown of it. */
  z.object({ op: z.literal('judge'), file, name: z.string(), mended: z.string(), budget }),
  /** Any file that can become pages as a PDF at `out`; `folder` is for what it takes. */
  z.object({ op: z.literal('to-pdf'), file, out: z.string(), folder: z.string(), budget }),
  /** How pages lie, their text, what is drawn on them, a small picture; without what runs. */
  z.object({
    op: z.literal('read'),
    file,
    out: z.string(),
    /** Null: without a small picture. */
    picture: z.string().nullable(),
    text: z.string(),
    /** Null: what is drawn is not asked for. */
    shapes: z.string().nullable(),
  }),
  z.object({
    op: z.literal('fill'),
    file,
    out: z.string(),
    questions: Questions,
    answers: z.record(QuestionId, AnswerText),
    texts: z.record(QuestionId, LongText),
    /** Where the pictures lie that texts show. */
    pictures: z.record(DocumentId, z.string()),
    marks: z.array(Mark),
    frames: z.array(PageFrame),
    text: z.string().nullable(),
  }),
  /** The tables of a spreadsheet or a text. */
  z.object({ op: z.literal('read-tables'), file, name: z.string() }),
  /** Annotations as marks; the bytes they name are written into `folder`, each under its SHA-256. */
  z.object({ op: z.literal('read-marks'), file, folder: z.string() }),
  /** The annotations of a PDF as XFDF, and those of an XFDF laid on a PDF. */
  z.object({ op: z.literal('xfdf-out'), file, out: z.string(), name: z.string(), ids: z.string() }),
  z.object({ op: z.literal('xfdf-in'), file, xfdf: z.string(), out: z.string() }),
  /** What was marked on films, as sheets of its own. */
  z.object({
    op: z.literal('list-films'),
    out: z.string(),
    films: z.array(z.object({ name: z.string(), marks: z.array(Mark) })),
    author: z.string(),
    voices: z.record(Digest, z.object({ type: VoiceType, file })),
    about: Recording.nullable(),
  }),
  /** What goes in front of a marked copy, as sheets of its own. */
  z.object({
    op: z.literal('cover-sheet'),
    out: z.string(),
    sheet: CoverSheet,
    author: z.string(),
    voices: z.record(Digest, z.object({ type: VoiceType, file })),
    about: Recording.nullable(),
  }),
  z.object({
    op: z.literal('write-marks'),
    file,
    out: z.string(),
    marks: z.array(Mark),
    frames: z.array(PageFrame),
    turns: z.record(z.string(), QuarterTurn),
    document: z.string().nullable(),
    /** As the page's own content, for printing, and not as annotations. */
    flat: z.boolean(),
    /** Then: the notes beside the page on the same sheet, and not on sheets behind. */
    beside: z.boolean(),
    author: z.string(),
    /** Written on the pages, with their text to see where; null: the pages carry a name already, or none of ours. */
    name: z.object({ name: z.string().max(300), text: z.string().nullable() }).nullable(),
    /** Where the bytes that marks name lie. */
    bytes: z.record(Digest, z.string()),
    /** And those of recordings, in the form that everything opens. */
    voices: z.record(Digest, z.object({ type: VoiceType, file })),
    /** What is said about the whole copy. */
    about: Recording.nullable(),
  }),
]);
export type Task = z.infer<typeof Task>;

export type Answer =
  /** It has started. Sent once, before anything else. */
  | { readonly kind: 'ready' }
  | { readonly kind: 'progress'; readonly done: number; readonly total: number }
  | { readonly kind: 'done'; readonly result: unknown }
  /** It was stopped for what it cost, or the file is broken. */
  | { readonly kind: 'failed'; readonly reason: 'too-slow' | 'too-big' | 'broken'; readonly error: string };

/** Of `judge`. */
export const JudgedAnswer = z.union([
  z.object({ refused: ErrorBody.shape.error }),
  z.object({
    judged: z.object({
      type: z.string(),
      shows: Shows,
      trouble: NoPages.nullable(),
      pages: z.int(),
      mended: z.boolean(),
    }),
  }),
]);
/** Of `fill`: the pages, and which answers stand on pages of their own. */
export const FilledAnswer = z.object({ pages: z.int(), flows: z.array(Flow), notes: z.array(OwnNote) });
/** Of `read-tables`. */
export const TablesAnswer = z.union([
  z.object({ refused: ErrorBody.shape.error }),
  z.object({ tables: z.array(GridShape) }),
]);
/** Of `to-pdf`: why there are no pages, or null. */
/** `partly`: it has pages, but a part of what should be on them could not be read. */
export const MadePdf = z.object({ trouble: NoPages.nullable(), partly: z.boolean() });
/** Of `read`: how pages lie, and what was written. */
export const Read = z.object({
  frames: z.array(PageFrame).max(FILE_LIMITS.pages),
  cleaned: z.boolean(),
  pictured: z.boolean(),
});
/** Of `read-marks`: annotations as marks, by page of the file. */
export const MarksRead = z.object({
  pages: z.array(z.object({ document: z.string(), page: z.int() }).nullable()),
  marks: z.array(Mark),
  unknown: z.array(z.string()),
  unread: z.int(),
  bytes: z.array(Digest),
});
export type MarksRead = z.infer<typeof MarksRead>;
export const Annotated = z.object({ written: z.int() });

/** What came of laying an XFDF on a PDF; null: it is none. */
export const XfdfLaid = z
  .object({
    ids: z.string(),
    offPage: z.int(),
    unknown: z.array(z.string()),
    subjects: z.record(z.string(), z.string()),
  })
  .nullable();

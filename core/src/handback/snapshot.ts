import * as z from 'zod';
import type { Sheet } from '../changes/sheet.ts';
import { standingMarks } from '../changes/sheet.ts';
import { QuarterTurn } from '../geometry/page-space.ts';
import { DocumentId } from '../ids/id.ts';
import { Mark, recordingOf, saysNothing } from '../marks/mark.ts';
import { readMark } from '../marks/read-mark.ts';
import { type Reading, readVersioned } from '../versions/reading.ts';
import { Recording } from '../voice/recording.ts';

/** How the teacher turned the pages of a document: page index to quarter turn, only where it is not 0. */
export const Turns = z.record(z.string().regex(/^\d{1,3}$/), QuarterTurn);
export type Turns = z.infer<typeof Turns>;

/** What a student gets: frozen when it is handed back, and the only thing of the marking they can ever read. */
export const Snapshot = z.object({
  v: z.literal(1),
  marks: z.array(Mark),
  grade: z.int().nullable(),
  /** The most points that could be earned, in hundredths; null for ungraded work. */
  most: z.int().nullable(),
  closing: z.string(),
  /** What is said about the whole copy. Left out: nothing. */
  voice: Recording.optional(),
  markedBy: z.string(),
  turns: z.record(DocumentId, Turns),
});
export type Snapshot = z.infer<typeof Snapshot>;

/** Reads what was handed back, of any version there ever was: old hand-backs stay readable for good. */
export function readSnapshot(raw: unknown): Reading<Snapshot> {
  return readVersioned(withMarksRead(raw), [], Snapshot);
}

/** The same value with each of its marks brought forward. */
export function withMarksRead(raw: unknown): unknown {
  if (typeof raw !== 'object' || raw === null || !('marks' in raw) || !Array.isArray(raw.marks)) return raw;
  return { ...raw, marks: raw.marks.map((mark) => readMark(mark)) };
}

/** Freezes a marking. Words that were never written stay behind: nobody should get a note that says nothing. */
export function freezeMarking(
  sheet: Sheet,
  about: { most: number | null; markedBy: string; turns: Record<DocumentId, Turns> },
): Snapshot {
  return {
    v: 1,
    marks: standingMarks(sheet).filter((m) => !saysNothing(m)),
    grade: sheet.slip.grade.value,
    most: about.most,
    closing: sheet.slip.closing.value.trim(),
    ...(sheet.slip.voice.value && { voice: sheet.slip.voice.value }),
    markedBy: about.markedBy,
    turns: about.turns,
  };
}

/** All that is said in what was handed back: about the whole copy, then at places. */
export const recordingsIn = (snapshot: Pick<Snapshot, 'marks' | 'voice'>): Recording[] => [
  ...(snapshot.voice ? [snapshot.voice] : []),
  ...snapshot.marks.flatMap((m) => recordingOf(m) ?? []),
];

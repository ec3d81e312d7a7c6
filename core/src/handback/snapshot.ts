import * as z from 'zod';
import { BecameLine } from '../again/became.ts';
import { becameLines } from '../again/lines.ts';
import type { Sheet } from '../changes/sheet.ts';
import { standingMarks, standingScores } from '../changes/sheet.ts';
import { OwnGrades } from '../changes/slip.ts';
import { QuarterTurn } from '../geometry/page-space.ts';
import { gradeOf } from '../grade/entered.ts';
import { countingGrade } from '../grade/grade.ts';
import { DocumentId } from '../ids/id.ts';
import { Mark, recordingOf, saysNothing } from '../marks/mark.ts';
import { readMark } from '../marks/read-mark.ts';
import { Round } from '../scores/score.ts';
import { markWithoutPoints } from '../tally/asked.ts';
import { type Reading, readVersioned } from '../versions/reading.ts';
import { Recording } from '../voice/recording.ts';
import type { HandBackHow } from './how.ts';
import { freezeScores, type RoundScores, type ScoredBy, ScoredShape } from './scored.ts';
import { Since } from './since-shape.ts';

/** How the teacher turned the pages of a document: page index to quarter turn, only where it is not 0. */
export const Turns = z.record(z.string().regex(/^\d{1,3}$/), QuarterTurn);
export type Turns = z.infer<typeof Turns>;

/** What a student gets: frozen when it is handed back, and the only thing of the marking they can ever read. */
export const Snapshot = z.object({
  v: z.literal(1),
  marks: z.array(Mark),
  grade: z.int().nullable(),
  /** The computed grade under one that was typed. Left out: there is none, or it is the grade. */
  computed: z.int().optional(),
  /** The grade of an earlier hand-in that counts in its place, because the better one does. Left out: this one counts. */
  counts: z.int().optional(),
  /** What was scored. Left out: nothing. */
  scored: ScoredShape.optional(),
  /** Which round it is, where a round was released alone. Left out: the whole marking. */
  round: Round.optional(),
  /** Grades of members of a group that are not the group's. No student ever gets this: see `forReader`. Left out: all have the same. */
  own: OwnGrades.optional(),
  /** The most points that could be earned, in hundredths; null for ungraded work. */
  most: z.int().nullable(),
  closing: z.string(),
  /** What is said about the whole copy. Left out: nothing. */
  voice: Recording.optional(),
  markedBy: z.string(),
  turns: z.record(DocumentId, Turns),
  /** Words and no grade: it will be completed. Left out: it is finished. */
  unfinished: z.literal(true).optional(),
  /** The grade shows when all notes were opened. Left out: at once. */
  gradeAfter: z.literal(true).optional(),
  /** A question to think about. Left out: none. */
  reflect: z.string().optional(),
  /** What became of the notes of the hand-in before. Left out: it is the first, or nothing was said. */
  became: z.array(BecameLine).optional(),
  /** What is another than in the hand-back before, of the same hand-in. Left out: it is the first, or nothing is. */
  since: Since.optional(),
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

/** Freezes a marking; of ungraded work no number goes back. Words that were never written stay behind: nobody should get a note that says nothing. */
export function freezeMarking(
  sheet: Sheet,
  about: {
    by: ScoredBy;
    /** Grades that the hand-ins before it went back with. */
    earlier: readonly (number | null)[];
    /** What of a midway round goes with it. */
    midway: RoundScores | null;
    markedBy: string;
    turns: Record<DocumentId, Turns>;
    how?: Pick<HandBackHow, 'unfinished' | 'gradeAfter' | 'reflect'>;
    /** What stood on the hand-in before as it last went back; left out: there was none. */
    before?: readonly Mark[];
  },
): Snapshot {
  if (about.how?.unfinished) return freezeWords(sheet, about, about.how);
  const marks = standingMarks(sheet).filter((m) => !saysNothing(m));
  const typed = sheet.slip.grade.value;
  const { scored, sum } = freezeScores(about.by, {
    marks,
    scores: standingScores(sheet),
    midway: about.midway,
    lifted: sheet.slip.lifted.value,
    typed: typed !== null,
  });
  const grade = gradeOf(typed, sum.value);
  const counts = countingGrade([...about.earlier, grade], about.by.scoring.again);
  return {
    v: 1,
    marks: about.by.most === null ? marks.map(markWithoutPoints) : marks,
    grade,
    ...(counts !== null && counts !== grade && { counts }),
    ...(typed !== null && sum.value !== null && sum.value !== typed && { computed: sum.value }),
    ...(scored && { scored }),
    ...(sheet.slip.own.value &&
      Object.keys(sheet.slip.own.value).length > 0 && { own: sheet.slip.own.value }),
    most: about.by.most,
    closing: sheet.slip.closing.value.trim(),
    ...(sheet.slip.voice.value && { voice: sheet.slip.voice.value }),
    markedBy: about.markedBy,
    turns: about.turns,
    ...became(sheet, marks, about.before),
    ...(about.how?.gradeAfter && { gradeAfter: true as const }),
    ...(about.how?.reflect && { reflect: about.how.reflect }),
  };
}

/** What goes back of a marking that is not finished: its words and marks without points, and no score of any kind. */
function freezeWords(
  sheet: Sheet,
  about: {
    by: ScoredBy;
    markedBy: string;
    turns: Record<DocumentId, Turns>;
    before?: readonly Mark[];
  },
  how: Pick<HandBackHow, 'reflect'>,
): Snapshot {
  return {
    v: 1,
    marks: standingMarks(sheet)
      .filter((m) => !saysNothing(m))
      .map(markWithoutPoints),
    grade: null,
    most: about.by.most,
    closing: sheet.slip.closing.value.trim(),
    ...(sheet.slip.voice.value && { voice: sheet.slip.voice.value }),
    markedBy: about.markedBy,
    turns: about.turns,
    ...became(sheet, standingMarks(sheet), about.before),
    unfinished: true,
    ...(how.reflect && { reflect: how.reflect }),
  };
}

/** What became of the notes of the hand-in before, where anything was said of them. */
function became(
  sheet: Sheet,
  marks: readonly Mark[],
  before: readonly Mark[] | undefined,
): Pick<Snapshot, 'became'> {
  const lines = before ? becameLines(before, marks, sheet.slip.became.value) : [];
  return lines.length ? { became: lines } : {};
}

/** All that is said in what was handed back: about the whole copy, then at places. */
export const recordingsIn = (snapshot: Pick<Snapshot, 'marks' | 'voice'>): Recording[] => [
  ...(snapshot.voice ? [snapshot.voice] : []),
  ...snapshot.marks.flatMap((m) => recordingOf(m) ?? []),
];

/** A midway round that is released alone: where the student stands and what was said, and no grade. */
export function freezeRound(
  round: RoundScores,
  about: { readonly by: ScoredBy; readonly markedBy: string },
): Snapshot {
  const { rubric, scoring } = about.by;
  return {
    v: 1,
    round: round.round,
    marks: [],
    grade: null,
    most: null,
    closing: round.words.trim(),
    scored: {
      scale: scoring.scale,
      lines: [],
      rubric: rubric && { name: rubric.name, criteria: rubric.rubric.criteria },
      rounds: [round],
      parts: [],
      late: null,
    },
    markedBy: about.markedBy,
    turns: {},
  };
}

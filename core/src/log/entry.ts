import * as z from 'zod';
import { Scale } from '../grade/scale.ts';
import type { Snapshot } from '../handback/snapshot.ts';
import { AssignmentId, ClassId, CopyId, MarkId, PersonId, RemarkAnswerId, RemarkId } from '../ids/id.ts';
import { isMarginMark, isSuggestion, type MarginMark, recordingOf } from '../marks/mark.ts';
import { signOf } from '../pens/focus.ts';
import { FocusName, FocusSign, InkColour } from '../pens/ink-colour.ts';
import { standsWords } from '../rubric/stands-words.ts';
import { Recording, spokenWords } from '../voice/recording.ts';
import { plainWords } from '../words/words.ts';

const Moment = z.int().min(0);

/** What a student did with a note or a suggestion; null: nothing yet. */
export const LogAct = z.enum(['accepted', 'declined', 'sorted', 'reopened']).nullable();
export type LogAct = z.infer<typeof LogAct>;

/** A note or a suggestion that somebody was given. */
export const LogNote = z.object({
  mark: MarkId,
  /** What it says, without its form; of a suggestion what it proposes. */
  words: z.string(),
  suggestion: z.boolean(),
  spoken: z.boolean(),
  focus: FocusName.nullable(),
  colour: InkColour,
  sign: FocusSign,
  act: LogAct,
  /** Done with: declined, sorted, or accepted where that made the change. */
  done: z.boolean(),
  actAt: Moment.nullable(),
  /** What the student answered to it, the newest; empty: nothing. */
  answer: z.string(),
});
export type LogNote = z.infer<typeof LogNote>;

/** Work that went back, or a marking that is still held. */
export const LogBack = z.object({
  of: z.literal('work'),
  /** When it went back; of what is held, when it was handed in. */
  at: Moment,
  assignmentId: AssignmentId,
  copyId: CopyId,
  title: z.string(),
  category: z.string(),
  unit: z.string(),
  /** Which hand-in it was; 0: nothing came in. */
  handIn: z.int(),
  held: z.boolean(),
  grade: z.int().nullable(),
  most: z.int().nullable(),
  scale: Scale,
  /** Where they stand in the rubric. */
  levels: z.array(z.object({ criterion: z.string(), stands: z.string() })),
  closing: z.string(),
  voice: Recording.nullable(),
  notes: z.array(LogNote),
  /** What they answered to the question to think about; empty: nothing. */
  reflected: z.string(),
});
export type LogBack = z.infer<typeof LogBack>;

/** What a student or a teacher wrote to a remark. */
export const RemarkAnswer = z.object({
  id: RemarkAnswerId,
  by: z.string(),
  mine: z.boolean(),
  at: Moment,
  words: z.string(),
  /** The words of the remark that it is about; empty: all of it. */
  quote: z.string(),
});
export type RemarkAnswer = z.infer<typeof RemarkAnswer>;

export const REMARK_WORDS = 4000;
export const REMARK_QUOTE = 300;
/** Students that one remark can be for. */
export const MOST_REMARKED = 200;
export const RemarkWork = z.string().trim().max(40);
export const Strand = z.string().trim().max(60);

/** Something said to a student without any copy. */
export const LogRemark = z.object({
  of: z.literal('remark'),
  id: RemarkId,
  /** The day it is about. */
  at: Moment,
  by: z.string(),
  mine: z.boolean(),
  words: z.string(),
  /** The kind of work it is about, such as a quiz or extra help; empty: none. */
  work: RemarkWork,
  strand: Strand,
  answers: z.array(RemarkAnswer),
});
export type LogRemark = z.infer<typeof LogRemark>;

export const LogEntry = z.discriminatedUnion('of', [LogBack, LogRemark]);
export type LogEntry = z.infer<typeof LogEntry>;

/** All that one student of a class was told, the oldest first. */
export const FeedbackLog = z.object({
  classId: ClassId,
  className: z.string(),
  student: z.object({ id: PersonId, given: z.string(), family: z.string() }),
  entries: z.array(LogEntry),
});
export type FeedbackLog = z.infer<typeof FeedbackLog>;

/** What a student said or did at a mark of a copy, or to the question to think about. */
export interface SaidBack {
  readonly at: number;
  readonly mark: string | null;
  readonly act: 'accepted' | 'declined' | 'sorted' | 'reopened' | 'reflected' | null;
  /** It was accepted where that changes what is written. */
  readonly typed: boolean;
  readonly words: string;
  readonly byStudent: boolean;
}

/** Of a mark in the margin: what it says in plain words. */
function wordsOf(mark: MarginMark): string {
  switch (mark.kind) {
    case 'note': {
      const recording = recordingOf(mark);
      return plainWords(mark.words) || (recording ? spokenWords(recording) : '');
    }
    case 'add':
      return `add “${plainWords(mark.words)}”`;
    case 'swap':
      return `“${mark.place.quote.exact}” → “${plainWords(mark.words)}”`;
    case 'cut':
      return `cut “${mark.place.quote.exact}”`;
  }
}

/**
 * What a hand-back tells the log: its grade, levels, words, and each note with what became of it. `said` is what was said on the copy since that hand-in
 * first went back, in the order of time.
 */
export function tellBack(
  snapshot: Snapshot,
  said: readonly SaidBack[],
): Pick<LogBack, 'grade' | 'most' | 'scale' | 'levels' | 'closing' | 'voice' | 'notes' | 'reflected'> {
  const { scored, most } = snapshot;
  const last = scored?.rounds.at(-1);
  return {
    grade: snapshot.grade,
    most,
    scale: scored?.scale ?? { kind: 'points' },
    levels: (scored?.rubric?.criteria ?? []).flatMap((c) => {
      const score = last?.scores.find((s) => s.criterion === c.id)?.score;
      return score?.stands ? [{ criterion: c.name, stands: standsWords(c, score, most !== null) }] : [];
    }),
    closing: snapshot.closing,
    voice: snapshot.voice ?? null,
    notes: snapshot.marks.filter(isMarginMark).map((mark) => {
      const here = said.filter((s) => s.mark === mark.id);
      const act = here.findLast((s) => s.act !== null) ?? null;
      return {
        mark: mark.id,
        words: wordsOf(mark),
        suggestion: isSuggestion(mark),
        spoken: recordingOf(mark) !== null,
        focus: mark.focus,
        colour: mark.colour,
        sign: signOf(mark),
        act: act?.act === 'reflected' ? null : (act?.act ?? null),
        done: act?.act === 'declined' || act?.act === 'sorted' || (act?.act === 'accepted' && act.typed),
        actAt: act?.at ?? null,
        answer: here.findLast((s) => s.byStudent && s.words !== '')?.words ?? '',
      };
    }),
    reflected: said.findLast((s) => s.act === 'reflected')?.words ?? '',
  };
}

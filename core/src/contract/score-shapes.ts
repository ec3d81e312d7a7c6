import * as z from 'zod';
import { AnswerKey, AnswerKeys } from '../alike/key.ts';
import { Place } from '../copy/place.ts';
import { Evening } from '../evening/shift.ts';
import { Scoring } from '../grade/scoring.ts';
import { RoundScores } from '../handback/scored.ts';
import {
  AssignmentId,
  ChangeId,
  CopyId,
  CriterionId,
  DocumentId,
  EveningId,
  HandInId,
  PersonId,
  QuestionId,
  RubricId,
  RubricVersionId,
} from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { BoxSchema } from '../passage/text-layer.ts';
import { SeenName } from '../pile/blind.ts';
import { AnswerKind, Questions } from '../questions/question.ts';
import { Rubric } from '../rubric/rubric.ts';
import { Score, ScoreOf } from '../scores/score.ts';
import { MarkingState } from './marking-state.ts';

const Moment = z.int().min(0);

export const RubricLine = z.object({
  id: RubricId,
  name: z.string(),
  versionId: RubricVersionId,
  number: z.int(),
  criteria: z.int(),
  /** In hundredths; null: its levels have no points. */
  most: z.int().nullable(),
  createdAt: Moment,
  /** Assignments that it hangs on, in any version. */
  usedIn: z.int(),
  putAway: z.boolean(),
});
export type RubricLine = z.infer<typeof RubricLine>;

export const RubricName = z.string().trim().min(1).max(200);

export const RubricShape = z.object({
  id: RubricId,
  name: z.string(),
  /** Only its maker changes it. */
  mine: z.boolean(),
  versionId: RubricVersionId,
  number: z.int(),
  rubric: Rubric,
  /** This version hangs on work that students can see: what is changed becomes a new version. */
  handedOut: z.boolean(),
  usedIn: z.array(
    z.object({ id: AssignmentId, title: z.string(), className: z.string(), versionId: RubricVersionId }),
  ),
  versions: z.array(z.object({ id: RubricVersionId, number: z.int(), createdAt: Moment })),
});
export type RubricShape = z.infer<typeof RubricShape>;

/** A rubric where it hangs on an assignment. */
export const HungRubric = z.object({
  id: RubricId,
  versionId: RubricVersionId,
  name: z.string(),
  number: z.int(),
  /** The newest version there is; another than this one: it can be taken over. */
  newest: RubricVersionId,
  rubric: Rubric,
});
export type HungRubric = z.infer<typeof HungRubric>;

/** A question that is scored, without its place. */
export const AskedShape = z.object({
  id: QuestionId,
  label: z.string(),
  name: z.string(),
  most: z.int().nullable(),
});
export type AskedShape = z.infer<typeof AskedShape>;

/** How an assignment is scored. */
export const ScoringShape = z.object({
  scoring: Scoring,
  rubric: HungRubric.nullable(),
  /** The questions of its worksheets, and those that were named for the pile. */
  asked: z.array(AskedShape),
  most: z.int().nullable(),
  /** Whether its students can see it. */
  open: z.boolean(),
});
export type ScoringShape = z.infer<typeof ScoringShape>;

export const ScoringEdit = z.object({
  scoring: Scoring,
  rubricVersionId: RubricVersionId.nullable(),
  most: z.int().min(0).max(1_000_000).nullable(),
  /** Words that tell students of it; null: they are not told. */
  news: z.string().trim().max(1000).nullable(),
});
export type ScoringEdit = z.infer<typeof ScoringEdit>;

/** A grade that another way of scoring changes; null: none. */
export const GradeChange = z.object({
  copyId: CopyId,
  student: SeenName,
  from: z.int().nullable(),
  to: z.int().nullable(),
  /** A typed grade stands over it: what is entered stays. */
  typed: z.boolean(),
});
export type GradeChange = z.infer<typeof GradeChange>;

/** How one copy is scored, beside its marking. */
export const CopyScoring = z.object({
  scoring: Scoring,
  rubric: HungRubric.nullable(),
  /** Keys of its questions. */
  keys: AnswerKeys,
  /** The midway round; null: nothing of it was scored. */
  midway: RoundScores.nullable(),
  /** When the midway round was released; null: it was not. */
  midwayAt: Moment.nullable(),
  /** Grades that hand-ins before this one went back with. */
  earlier: z.array(z.int().nullable()),
  /** Of a group that is not marked blind: who is in it. */
  members: z.array(z.object({ id: PersonId, name: z.string() })),
});
export type CopyScoring = z.infer<typeof CopyScoring>;

/** One copy to be scored without its pages: nothing came in, it is still being worked on, or one only wants to score. */
export const ScoreSheet = z.object({
  copyId: CopyId,
  assignment: z.object({
    id: AssignmentId,
    title: z.string(),
    className: z.string(),
    dueAt: Moment.nullable(),
    most: z.int().nullable(),
  }),
  student: SeenName,
  place: Place,
  handInNumber: z.int(),
  /** The questions of its worksheets, by the document that shows them. */
  asked: z.array(z.object({ document: DocumentId, questions: Questions })),
  marking: MarkingState,
  scoring: CopyScoring,
  /** What was scored of it goes back alone, and did. */
  handedBack: z.boolean(),
});
export type ScoreSheet = z.infer<typeof ScoreSheet>;

/** One copy in the table of scores. */
export const ScoreRow = z.object({
  copyId: CopyId,
  handInId: HandInId.nullable(),
  student: SeenName,
  place: Place,
  /** The document whose first page stands for it; null: none has pages yet. */
  cover: DocumentId.nullable(),
  /** What questions earned, in hundredths; what is not named is open. */
  points: z.array(z.object({ question: QuestionId, points: z.int(), typed: z.boolean() })),
  /** Criteria by round: half levels counted from 0 (a level is 2 × its place); −1: not shown. */
  levels: z.array(
    z.object({
      round: z.enum(['midway', 'final']),
      criterion: CriterionId,
      step: z.int().min(-1).max(40),
      at: Moment,
    }),
  ),
  scores: z.array(z.object({ of: ScoreOf, version: ChangeId.nullable(), score: Score })),
  sum: z.int().nullable(),
  typed: z.int().nullable(),
  computed: z.int().nullable(),
  grade: z.int().nullable(),
  gradeVersion: ChangeId.nullable(),
  /** What does not add up: how many things. */
  troubles: z.int(),
  open: z.int(),
  /** Who marks it; null: nobody yet. */
  marker: z.object({ id: PersonId, name: z.string() }).nullable(),
  /** When it was called marked, else when it was begun; null: not begun. */
  markedAt: Moment.nullable(),
  second: z.object({ by: PersonId, grade: z.int() }).nullable(),
  secondVersion: ChangeId.nullable(),
  midwayAt: Moment.nullable(),
});
export type ScoreRow = z.infer<typeof ScoreRow>;

/** A time the grades of a pile were evened out: it can be undone as long as they stand. */
export const EveningShape = z.object({
  id: EveningId,
  how: Evening,
  reason: z.string(),
  by: z.string(),
  at: Moment,
  copies: z.int(),
  undone: z.boolean(),
});
export type EveningShape = z.infer<typeof EveningShape>;

export const PileScores = z.object({
  scoring: ScoringShape,
  title: z.string(),
  className: z.string(),
  blind: z.boolean(),
  rows: z.array(ScoreRow),
  evenings: z.array(EveningShape),
  /** Answers that are the same and earned different points, each with what it earned where. */
  sameAnswers: z.array(
    z.object({
      question: QuestionId,
      answer: z.string(),
      parts: z.array(z.object({ points: z.int(), copies: z.array(CopyId) })),
    }),
  ),
  /** And phrases: the same words should earn the same. */
  phrases: z.array(
    z.object({ words: z.string(), parts: z.array(z.object({ points: z.int(), copies: z.array(CopyId) })) }),
  ),
});
export type PileScores = z.infer<typeof PileScores>;

/** One question of one copy. */
export const AcrossCopy = z.object({
  copyId: CopyId,
  handInId: HandInId,
  student: SeenName,
  /** Typed or chosen; null: it is drawn, or stands on the pages of a file. */
  value: z.string().nullable(),
  /** Where it stands. */
  document: DocumentId.nullable(),
  page: z.int(),
  box: BoxSchema.nullable(),
  /** The teacher's marks at this question. */
  marks: z.array(Mark),
  points: z.int().nullable(),
  typed: z.int().nullable(),
  version: ChangeId.nullable(),
  handedBack: z.boolean(),
});
export type AcrossCopy = z.infer<typeof AcrossCopy>;

export const Across = z.object({
  assignmentId: AssignmentId,
  title: z.string(),
  className: z.string(),
  graded: z.boolean(),
  question: z.object({
    id: QuestionId,
    label: z.string(),
    name: z.string(),
    most: z.int().nullable(),
    answer: AnswerKind.nullable(),
    key: AnswerKey.nullable(),
    /** Whose worksheet the key belongs to; null: it can have none. */
    worksheetId: z.string().nullable(),
  }),
  /** How many of how many copies are scored, question by question. */
  progress: z.array(z.object({ id: QuestionId, label: z.string(), scored: z.int(), of: z.int() })),
  copies: z.array(AcrossCopy),
});
export type Across = z.infer<typeof Across>;

/** What a table in a file or from the clipboard holds: lines of cells, and what is special about some. */
export const GridShape = z.object({
  name: z.string(),
  cells: z.array(z.array(z.string().max(5000)).max(400)).max(400),
  special: z.array(z.object({ column: z.int(), row: z.int(), is: z.enum(['merged', 'formula']) })),
});
export type GridShape = z.infer<typeof GridShape>;

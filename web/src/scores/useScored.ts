import {
  type Asked,
  askedOfPile,
  askedOnSheet,
  type CopyScoring,
  type DocumentId,
  type Flow,
  type GradeSum,
  gradeFrom,
  gradeOf,
  type Mark,
  pointsOn,
  type Questions,
  type Scores,
  type Sheet,
  standingScores,
  type Tally,
  tallyOf,
} from '@jotmark/core';
import { useMemo } from 'react';

/** What one copy is scored by. */
export interface ScoreSite {
  readonly most: number | null;
  readonly scoring: CopyScoring;
  readonly asked: readonly Asked[];
  /** In ms. */
  readonly late: number;
}

/** What is asked in what lies there: the questions of its worksheets, and those that were named for the pile. */
export function askedIn(
  sheets: readonly {
    readonly document: DocumentId;
    readonly questions: Questions;
    readonly flows?: readonly Flow[];
  }[],
  scoring: CopyScoring,
  firstPages: DocumentId | null,
): Asked[] {
  return [
    ...sheets.flatMap(({ document, questions, flows }) => askedOnSheet(questions, document, flows)),
    ...askedOfPile(scoring.scoring, firstPages),
  ];
}

export interface ScoredNow {
  readonly scores: Scores;
  readonly tally: Tally;
  readonly sum: GradeSum;
  /** What is entered: typed over, or else as computed. */
  readonly grade: number | null;
}

/** What a marking comes to, as it stands this moment: computed here by the very code that the server computes with. */
export function useScored(site: ScoreSite, sheet: Sheet, marks: readonly Mark[]): ScoredNow {
  const scores = useMemo(() => standingScores(sheet), [sheet.scores]);
  const earning = useMemo(() => marks.filter((m) => pointsOn(m) !== null), [marks]);
  const lifted = sheet.slip.lifted.value;
  const typed = sheet.slip.grade.value;
  return useMemo(() => {
    const tally = tallyOf(site.asked, earning, scores);
    const { most, late } = site;
    const { scoring, rubric } = site.scoring;
    const sum = gradeFrom({ most, scoring, rubric: rubric?.rubric ?? null, scores, late, lifted }, tally);
    return { scores, tally, sum, grade: gradeOf(typed, sum.value) };
  }, [site, scores, earning, lifted, typed]);
}

import type { Mark } from '../marks/mark.ts';
import type { Rubric } from '../rubric/rubric.ts';
import { PARTS, type RubricTotal, rubricTotal } from '../rubric/total.ts';
import type { Scores } from '../scores/score.ts';
import type { Asked } from '../tally/asked.ts';
import { type Tally, tallyOf } from '../tally/tally.ts';
import { type Fraction, fraction, plus, roundTo, times } from './fraction.ts';
import { lateDays, lateDeduction } from './late.ts';
import type { Scoring } from './scoring.ts';

/** Why no grade can be computed. */
export type NoGrade =
  /** The work has none. */
  | 'ungraded'
  /** It is typed. */
  | 'by-hand'
  | 'nothing-scored'
  /** No question can earn anything; no criterion has points and a weight. */
  | 'no-questions'
  | 'no-rubric';

/** One part of a grade: so much of so much, as `share` percent of it. */
export interface GradePart {
  readonly of: 'tally' | 'rubric';
  /** In hundredths; of a rubric perhaps not whole. */
  readonly earned: number;
  readonly most: number;
  readonly share: number;
}

/** A whole sum: what a grade is made of, step by step. */
export interface GradeSum {
  readonly parts: readonly GradePart[];
  /** In hundredths, rounded by the rule, before lateness; null: see `why`. */
  readonly before: number | null;
  readonly late: {
    readonly days: number;
    /** What goes off, in hundredths; 0 where it was lifted. */
    readonly off: number;
    readonly lifted: boolean;
  } | null;
  /** The computed grade, in hundredths; null: see `why`. */
  readonly value: number | null;
  readonly why: NoGrade | null;
  /** What is still open: questions and criteria that count and are not scored. */
  readonly open: number;
}

export interface Scored {
  readonly most: number | null;
  readonly scoring: Scoring;
  readonly asked: readonly Asked[];
  readonly rubric: Rubric | null;
  readonly marks: readonly Mark[];
  readonly scores: Scores;
  /** In ms; 0 in time. */
  readonly late: number;
  /** Whether lateness was lifted by hand. */
  readonly lifted: boolean;
}

const none = (why: NoGrade, parts: readonly GradePart[] = [], open = 0): GradeSum => ({
  parts,
  before: null,
  late: null,
  value: null,
  why,
  open,
});

/**
 * The grade of a marking, computed: `most × Σ share × earned / most of the part`, rounded by the rule of the assignment, less what lateness costs, within
 * 0 and the most. All in exact fractions of hundredths. Nothing is computed before something of each part is scored.
 */
export function computeGrade(s: Scored): GradeSum {
  return gradeFrom(s, tallyOf(s.asked, s.marks, s.scores));
}

/** The same where the tally is at hand. */
export function gradeFrom(s: Omit<Scored, 'asked' | 'marks'>, tally: Tally): GradeSum {
  const { most, scoring, rubric } = s;
  if (most === null) return none('ungraded');
  if (scoring.by === 'hand') return none('by-hand');
  const shares = sharesOf(scoring);
  const parts: GradePart[] = [];
  let total: Fraction = fraction(0);
  let open = 0;
  if (shares.tally > 0) {
    if (tally.most === 0) return none('no-questions');
    open += tally.open.length;
    parts.push({ of: 'tally', earned: tally.sum, most: tally.most, share: shares.tally });
    total = plus(total, times(fraction(tally.sum, tally.most), fraction(shares.tally, 100)));
  }
  if (shares.rubric > 0) {
    const sum = rubric && rubricTotal(rubric, s.scores, 'final', scoring.notShown);
    if (!sum || !rubric) return none('no-rubric', parts, open);
    open += sum.open.length + sum.gone.length;
    parts.push({ of: 'rubric', earned: sum.earned / PARTS, most: sum.most / PARTS, share: shares.rubric });
    if (untouched(rubric, sum) || sum.most === 0) return none('nothing-scored', parts, open);
    total = plus(total, times(fraction(sum.earned, sum.most), fraction(shares.rubric, 100)));
  }
  if (shares.tally > 0 && tally.scored === 0) return none('nothing-scored', parts, open);
  const { to, way } = scoring.rounding;
  const before = Math.min(most, roundTo(times(total, fraction(most)), to, way));
  const late = latenessOf(s, most);
  return { parts, before, late, value: Math.max(0, before - (late?.off ?? 0)), why: null, open };
}

const untouched = (rubric: Rubric, sum: RubricTotal): boolean =>
  sum.open.length + sum.gone.length === rubric.criteria.length;

/** What tally and rubric each make of the grade, in percent. */
export function sharesOf(scoring: Pick<Scoring, 'by' | 'tallyShare'>): { tally: number; rubric: number } {
  switch (scoring.by) {
    case 'hand':
      return { tally: 0, rubric: 0 };
    case 'tally':
      return { tally: 100, rubric: 0 };
    case 'rubric':
      return { tally: 0, rubric: 100 };
    case 'both':
      return { tally: scoring.tallyShare, rubric: 100 - scoring.tallyShare };
  }
}

function latenessOf(s: Pick<Scored, 'scoring' | 'late' | 'lifted'>, most: number): GradeSum['late'] {
  const rule = s.scoring.late;
  if (!rule || s.late <= 0) return null;
  const days = lateDays(s.late, rule);
  if (days === 0) return null;
  return { days, off: s.lifted ? 0 : lateDeduction(rule, s.late, most), lifted: s.lifted };
}

/** Which of the grades of one copy's hand-ins counts, the first first; null: there is none. */
export function countingGrade(grades: readonly (number | null)[], rule: Scoring['again']): number | null {
  const given = grades.filter((g): g is number => g !== null);
  if (given.length === 0) return null;
  return rule === 'better' ? Math.max(...given) : given.at(-1)!;
}

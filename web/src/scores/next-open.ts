import {
  type Criterion,
  criterionScore,
  nextOpen,
  type Round,
  type Rubric,
  type Scores,
  type Tally,
} from '@jotmark/core';
import { criterionRowId, tallyFieldId } from './ids.ts';

/** Puts the cursor to what is scored next: the next open question after the one it is in, else the first open criterion. False: nothing is open. */
export function toNextOpen(tally: Tally, rubric: Rubric | null, scores: Scores, round: Round): boolean {
  const here = document.activeElement?.id ?? '';
  const from = tally.lines.find((l) => tallyFieldId(l.question.id) === here)?.question.id ?? null;
  const question = round === 'final' ? nextOpen(tally, from) : null;
  const open = (c: Criterion) => !criterionScore(scores, round, c.id)?.stands;
  const criterion = rubric?.criteria.find(open) ?? rubric?.criteria[0];
  const el = document.getElementById(
    question ? tallyFieldId(question) : criterion ? criterionRowId(criterion.id) : '',
  );
  el?.scrollIntoView({ block: 'nearest' });
  el?.focus();
  return el !== null;
}

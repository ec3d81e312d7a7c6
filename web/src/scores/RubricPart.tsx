import {
  type Criterion,
  criterionScore,
  formatPoints,
  type HungRubric,
  PARTS,
  type Round,
  type RoundScores,
  rubricTotal,
  type Scores,
  type Scoring,
} from '@jotmark/core';
import { memo, useMemo, useState } from 'react';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { CriterionRow } from './CriterionRow.tsx';
import { criterionRowId } from './ids.ts';
import { scoreMoves } from './score-moves.ts';

interface Props {
  readonly hung: HungRubric;
  readonly scoring: Scoring;
  readonly graded: boolean;
  readonly round: Round;
  readonly scores: Scores;
  readonly keeper: SheetKeeper;
  /** The midway round that lies elsewhere; null: there is none, or it is the one that is shown. */
  readonly midway: RoundScores | null;
  readonly readOnly: boolean;
}

/** Scoring by the rubric, without leaving the page: one key or one tap a criterion. */
export const RubricPart = memo(function RubricPart(p: Props) {
  const { hung, round, scores, keeper } = p;
  const { rubric } = hung;
  const [unfolded, setUnfolded] = useState(false);
  const moves = useMemo(() => scoreMoves(keeper, rubric, round), [keeper, rubric, round]);
  const total = p.graded ? rubricTotal(rubric, scores, round, p.scoring.notShown) : null;
  const go = (from: number, by: 1 | -1) => {
    const next = rubric.criteria[from + by];
    if (next) document.getElementById(criterionRowId(next.id))?.focus();
  };
  const before = new Map(p.midway?.scores.map((s) => [s.criterion, s.score]));
  return (
    <section className="mt-5" aria-label={`Rubric: ${hung.name}`}>
      <div className="flex items-baseline gap-2">
        <h3 className="min-w-0 flex-1 font-bold">{hung.name}</h3>
        <span className="shrink-0 text-[13px] text-soft tabular">
          {total && total.most > 0 && total.open.length < rubric.criteria.length
            ? `${near(total.earned)} / ${near(total.most)}`
            : ''}
        </span>
      </div>
      <p className="flex items-baseline gap-2 text-[12px] text-soft">
        <span>{counts(p)}</span>
        <button
          type="button"
          className="ml-auto text-action hover:underline"
          aria-expanded={unfolded}
          onClick={() => setUnfolded(!unfolded)}
        >
          {unfolded ? 'Hide other levels' : 'Show all levels'}
        </button>
      </p>
      {rubric.criteria.map((criterion: Criterion, i) => (
        <CriterionRow
          key={criterion.id}
          criterion={criterion}
          score={criterionScore(scores, round, criterion.id)}
          midway={before.get(criterion.id) ?? null}
          moves={moves}
          readOnly={p.readOnly}
          numbers={p.graded}
          unfolded={unfolded}
          onGo={(by) => go(i, by)}
        />
      ))}
      {!p.readOnly && (
        <p className="mt-2 border-t border-dashed border-line pt-1.5 text-[12px] leading-5 text-soft">
          <span className="key">1</span> … level · <span className="key">Shift 3</span> between 3 and the next
          · <span className="key">x</span> not shown · <span className="key">Alt 3</span> all of them; then
          the next criterion by itself
        </p>
      )}
    </section>
  );
});

const near = (parts: number): string => formatPoints(Math.round(parts / PARTS));

function counts({ scoring, graded, round }: Props): string {
  if (round === 'midway') return 'midway: where it stands now, without a grade';
  if (!graded || scoring.by === 'hand' || scoring.by === 'tally') return 'rubric · informs only';
  return scoring.by === 'rubric'
    ? 'rubric · makes the grade'
    : `rubric · ${100 - scoring.tallyShare} % of the grade`;
}

import {
  type CriterionId,
  type CriterionScore,
  formatPoints,
  PARTS,
  type Rubric,
  rubricTotal,
  type Score,
  type ScoreOf,
  scoreOfCriterion,
} from '@jotmark/core';
import { useMemo, useState } from 'react';
import { CriterionRow } from '../scores/CriterionRow.tsx';
import { criterionRowId } from '../scores/ids.ts';
import { type ScoreMoves, standsAtPlace } from '../scores/score-moves.ts';

/** How the rubric looks on the score slip, to be tried: nothing of it is kept. */
export function SlipPreview({ rubric, name }: { rubric: Rubric; name: string }) {
  const [tried, setTried] = useState<ReadonlyMap<CriterionId, CriterionScore>>(new Map());
  const scores = useMemo(
    () => new Map<ScoreOf, Score>([...tried].map(([id, score]) => [scoreOfCriterion('final', id), score])),
    [tried],
  );
  const put = (id: CriterionId, change: Partial<CriterionScore>) =>
    setTried((old) =>
      new Map(old).set(id, {
        of: 'criterion',
        stands: null,
        words: '',
        had: [],
        ...old.get(id),
        ...change,
        at: 0,
      }),
    );
  const moves: ScoreMoves = {
    stand: (c, stands) => put(c.id, { stands }),
    say: (c, words) => put(c.id, { words }),
    had: (c, had) => put(c.id, { had: [...had] }),
    all: (place) => {
      for (const c of rubric.criteria)
        put(c.id, { stands: standsAtPlace(c, Math.min(place, c.levels.length - 1), false) });
    },
  };
  const total = rubricTotal(rubric, scores, 'final', 'left-out');
  return (
    <section className="sticky top-4 w-80 shrink-0" aria-label="On the score slip it looks like this">
      <p className="mb-2 text-sm text-soft">On the score slip it looks like this. Try it.</p>
      <div className="bg-raised px-5 py-4 shadow-sm">
        <div className="flex items-baseline gap-2">
          <h2 className="min-w-0 flex-1 text-[17px] font-bold">{name}</h2>
          {total && (
            <span className="text-soft tabular">
              {formatPoints(Math.round(total.earned / PARTS))} /{' '}
              {formatPoints(Math.round(total.most / PARTS))}
            </span>
          )}
        </div>
        {rubric.criteria.map((c, i) => (
          <CriterionRow
            key={c.id}
            criterion={c}
            score={tried.get(c.id) ?? null}
            midway={null}
            moves={moves}
            readOnly={false}
            numbers
            unfolded={false}
            onGo={(by) => {
              const next = rubric.criteria[i + by];
              if (next) document.getElementById(criterionRowId(next.id))?.focus();
            }}
          />
        ))}
      </div>
    </section>
  );
}

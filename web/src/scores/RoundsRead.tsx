import {
  type Criterion,
  type CriterionScore,
  levelSign,
  levelsOf,
  type RoundScores,
  standsWords,
} from '@jotmark/core';
import { WordsShow } from '../words/WordsShow.tsx';
import { DescriptorWords } from './DescriptorWords.tsx';

/** Where a student stands at each criterion, round by round, in the words of the levels; and what the next level asks for. */
export function RoundsRead({
  name,
  criteria,
  rounds,
  graded,
}: {
  name: string;
  criteria: readonly Criterion[];
  rounds: readonly RoundScores[];
  graded: boolean;
}) {
  const last = rounds.at(-1);
  const scoreIn = (round: RoundScores | undefined, c: Criterion): CriterionScore | null =>
    round?.scores.find((s) => s.criterion === c.id)?.score ?? null;
  return (
    <section aria-label={`Rubric: ${name}`}>
      <h2 className="font-bold">{name}</h2>
      {rounds.slice(0, -1).map((r) =>
        r.words ? (
          <div key={r.round} className="mt-1 text-sm">
            <span className="text-soft">Midway: </span>
            <WordsShow words={r.words} />
          </div>
        ) : null,
      )}
      <ul>
        {criteria.map((c) => {
          const score = scoreIn(last, c);
          const before = rounds.length > 1 ? scoreIn(rounds[0], c) : null;
          if (!score && !before) return null;
          return (
            <li key={c.id} className="mt-3 border-t border-line pt-2">
              <div className="flex items-baseline gap-2">
                <h3 className="min-w-0 flex-1 font-semibold">{c.name}</h3>
                {before?.stands && (
                  <span className="text-sm text-soft">midway: {standsWords(c, before, graded)}</span>
                )}
              </div>
              <Where criterion={c} score={score} graded={graded} />
              <Said criterion={c} score={score} />
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** The levels in a row, the one that was reached filled; half way fills half of two. */
function Where({
  criterion,
  score,
  graded,
}: {
  criterion: Criterion;
  score: CriterionScore | null;
  graded: boolean;
}) {
  const reached = levelsOf(criterion, score);
  const words = standsWords(criterion, score, graded);
  return (
    <p className="mt-1 flex items-center gap-1" role="img" aria-label={words || 'not scored'}>
      {criterion.levels.map((l, i) => {
        const side =
          reached.length === 2 ? (reached[0] === l ? 'right' : reached[1] === l ? 'left' : null) : null;
        const on = reached.length === 1 && reached[0] === l;
        return (
          <span
            key={l.id}
            className={`min-w-0 flex-1 truncate rounded px-1 py-1 text-center text-[13px] font-bold ${on ? 'bg-action text-white' : 'bg-margin text-soft'} ${side === 'right' ? 'bg-[linear-gradient(to_right,transparent_50%,var(--color-action)_50%)]' : ''} ${side === 'left' ? 'bg-[linear-gradient(to_right,var(--color-action)_50%,transparent_50%)]' : ''}`}
          >
            <span className={side ? 'rounded bg-raised px-1' : ''}>{levelSign(l, i, graded)}</span>
          </span>
        );
      })}
    </p>
  );
}

/** What the level says, what was said besides, and what the next one asks for. */
function Said({ criterion, score }: { criterion: Criterion; score: CriterionScore | null }) {
  if (!score) return null;
  const reached = levelsOf(criterion, score);
  const top = reached.at(-1);
  const next = top && criterion.levels[criterion.levels.indexOf(top) + 1];
  return (
    <div className="mt-1 text-[15px]">
      {score.stands?.is === 'not-shown' && (
        <p className="text-soft">Not shown: there was nothing to see it by.</p>
      )}
      {reached.length === 2 && <p className="text-sm text-soft">Between:</p>}
      {reached.map((l) => (
        <p key={l.id}>
          {reached.length === 2 && <b>{l.name}: </b>}
          <DescriptorWords level={l} had={score.had} onHad={null} />
        </p>
      ))}
      {score.words && (
        <div className="italic">
          <WordsShow words={score.words} />
        </div>
      )}
      {next?.descriptor && (
        <p className="text-sm text-soft">
          Next{next.name && ` (${next.name})`}: <DescriptorWords level={next} had={score.had} onHad={null} />
        </p>
      )}
    </div>
  );
}

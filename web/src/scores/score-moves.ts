import {
  type Criterion,
  type CriterionScore,
  criterionScore,
  type Had,
  type LevelId,
  type Round,
  type Rubric,
  type Scores,
  scoreOfCriterion,
} from '@jotmark/core';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';

type Stands = CriterionScore['stands'];

/** What is done to the scores of one round. */
export interface ScoreMoves {
  stand(criterion: Criterion, stands: Stands): void;
  say(criterion: Criterion, words: string): void;
  had(criterion: Criterion, had: readonly Had[]): void;
  /** All criteria to their level at this place, or to the highest they have. */
  all(place: number): void;
}

const EMPTY: Omit<CriterionScore, 'at'> = { of: 'criterion', stands: null, words: '', had: [] };

/** Where a criterion stands at its level `place`, counted from 0 and from the least; `half`: between that and the next. Null: there is none. */
export function standsAtPlace({ levels }: Criterion, place: number, half: boolean): Stands {
  const [level, next] = [levels[place], levels[place + 1]];
  if (!level) return null;
  if (!half) return { is: 'level', level: level.id };
  return next ? { is: 'between', lower: level.id, upper: next.id } : null;
}

export function scoreMoves(keeper: SheetKeeper, rubric: Rubric, round: Round): ScoreMoves {
  const now = (c: Criterion) => criterionScore(standing(keeper), round, c.id);
  const made = (c: Criterion, change: Partial<CriterionScore>): CriterionScore | null => {
    const next: CriterionScore = { ...EMPTY, ...now(c), ...change, at: Date.now() };
    const says = next.stands !== null || next.words.trim() !== '' || next.had.length > 0;
    return says ? next : null;
  };
  const put = (c: Criterion, change: Partial<CriterionScore>, merge: string | null = null) =>
    keeper.score(scoreOfCriterion(round, c.id), made(c, change), merge);
  return {
    stand: (c, stands) => put(c, { stands }),
    say: (c, words) => put(c, { words }, `words:${round}:${c.id}`),
    had: (c, had) => put(c, { had: [...had] }),
    all: (place) =>
      keeper.do(
        rubric.criteria.flatMap((c) => {
          const stands = standsAtPlace(c, Math.min(place, c.levels.length - 1), false);
          return keeper.scoreChange(scoreOfCriterion(round, c.id), made(c, { stands })) ?? [];
        }),
      ),
  };
}

function standing(keeper: SheetKeeper): Scores {
  return new Map(
    [...keeper.view.sheet.scores].flatMap(([of, { value }]) => (value ? [[of, value] as const] : [])),
  );
}

/** Letters of a descriptor marked as being there, or no longer where all of them were. Neighbours become one. */
export function toggleHad(had: readonly Had[], level: LevelId, from: number, to: number): Had[] {
  const others = had.filter((h) => h.level !== level);
  const own = had.filter((h) => h.level === level);
  const covered = own.some((h) => h.from <= from && h.to >= to);
  const next = covered
    ? own.flatMap((h) => [
        ...(h.from < from ? [{ level, from: h.from, to: Math.min(h.to, from) }] : []),
        ...(h.to > to ? [{ level, from: Math.max(h.from, to), to: h.to }] : []),
      ])
    : joined([...own, { level, from, to }]);
  return [...others, ...next];
}

function joined(all: readonly Had[]): Had[] {
  const out: Had[] = [];
  for (const h of [...all].sort((a, b) => a.from - b.from)) {
    const last = out.at(-1);
    // A space between two words that are there is there too.
    if (last && h.from <= last.to + 1) out[out.length - 1] = { ...last, to: Math.max(last.to, h.to) };
    else out.push(h);
  }
  return out;
}

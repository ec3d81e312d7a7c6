import type { Score, ScoreOf } from '../scores/score.ts';
import { scoreOfCriterion, scoreOfQuestion } from '../scores/score.ts';
import type { Snapshot } from './snapshot.ts';

/** What the scoring of the next hand-in starts from: points and levels as they last went back. Only what changed needs a look. A grade that was typed is none of it. */
export function scoresToStartFrom({ scored }: Snapshot): [ScoreOf, Score][] {
  if (!scored) return [];
  const final = scored.rounds.find((r) => r.round === 'final');
  return [
    ...scored.lines.flatMap((l): [ScoreOf, Score][] =>
      l.points === null ? [] : [[scoreOfQuestion(l.id), { of: 'question', points: l.points }]],
    ),
    ...(final?.scores ?? []).map(({ criterion, score }): [ScoreOf, Score] => [
      scoreOfCriterion('final', criterion),
      score,
    ]),
  ];
}

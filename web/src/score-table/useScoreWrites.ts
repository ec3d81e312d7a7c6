import {
  type AssignmentId,
  gradeOf,
  type PileScores,
  type QuestionId,
  type ScoreRow,
  scoreOfQuestion,
} from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { keys } from '../ask/keys.ts';
import { useStable } from '../frame/useStable.ts';
import { sheetOfRow } from '../outbox/alone.ts';
import { outbox } from '../outbox/outbox.ts';

/** Writes into copies that are not open: shown at once, kept on this device until the server has it. */
export function useScoreWrites(assignmentId: AssignmentId) {
  const client = useQueryClient();
  const show = (row: ScoreRow, change: Partial<ScoreRow>) =>
    client.setQueryData(
      keys.pileScores(assignmentId),
      (old: PileScores | undefined) =>
        old && { ...old, rows: old.rows.map((r) => (r.copyId === row.copyId ? { ...r, ...change } : r)) },
    );
  return useStable({
    async grade(row: ScoreRow, value: number | null): Promise<void> {
      show(row, { typed: value, grade: gradeOf(value, row.computed) });
      await outbox.writeSlip({
        sheetId: sheetOfRow(row),
        field: 'grade',
        value,
        was: row.typed,
        base: row.gradeVersion,
      });
    },
    async points(row: ScoreRow, question: QuestionId, value: number | null): Promise<void> {
      const of = scoreOfQuestion(question);
      const stored = row.scores.find((s) => s.of === of);
      const score = value === null ? null : { of: 'question' as const, points: value };
      const others = row.points.filter((p) => p.question !== question);
      show(row, { points: value === null ? others : [...others, { question, points: value, typed: true }] });
      const change = await outbox.writeScore({
        sheetId: sheetOfRow(row),
        of,
        value: score,
        was: stored?.score ?? null,
        base: stored?.version ?? null,
      });
      if (change && score)
        show(row, {
          scores: [...row.scores.filter((s) => s.of !== of), { of, score, version: change.id }],
          points: [...others, { question, points: score.points, typed: true }],
        });
    },
  });
}

export type ScoreWrites = ReturnType<typeof useScoreWrites>;

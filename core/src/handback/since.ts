import { same } from '../changes/sheet.ts';
import type { MarkId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import type { Since } from './since-shape.ts';
import type { Snapshot } from './snapshot.ts';

/** What changed from one hand-back to the next; null: nothing that a student would see. */
export function changedSince(before: Snapshot, now: Snapshot): Since | null {
  const were = new Map<MarkId, Mark>(before.marks.map((m) => [m.id, m]));
  const are = new Set(now.marks.map((m) => m.id));
  const since: Since = {
    came: now.marks.filter((m) => !were.has(m.id)).map((m) => m.id),
    changed: now.marks.filter((m) => were.has(m.id) && !same(were.get(m.id), m)).map((m) => m.id),
    went: before.marks.filter((m) => !are.has(m.id)).length,
    grade: before.grade === now.grade ? null : { from: before.grade, to: now.grade },
    closing: before.closing !== now.closing || !same(before.voice, now.voice),
    scores: !same(before.scored, now.scored),
  };
  const anything =
    since.came.length + since.changed.length + since.went > 0 ||
    since.grade !== null ||
    since.closing ||
    since.scores;
  return anything ? since : null;
}

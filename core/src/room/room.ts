import * as z from 'zod';
import { type AnswerKeys, byKey } from '../alike/key.ts';
import { Place } from '../copy/place.ts';
import { CopyId, QuestionId } from '../ids/id.ts';
import { compareNames } from '../names/order.ts';
import { SeenName } from '../pile/blind.ts';

/** As much of an answer as the room shows of it. */
export const GLANCE = 240;

/** One student's copy as the teacher sees it from across the room. */
export const RoomRow = z.object({
  copyId: CopyId,
  student: SeenName,
  place: Place,
  excused: z.boolean(),
  /** When a device last said that the copy is open on it; null: on none. */
  hereAt: z.int().nullable(),
  /** Of the last change; null: nothing was written yet. Milliseconds of Unix time by the server's clock. */
  workedAt: z.int().nullable(),
  atQuestion: QuestionId.nullable(),
  /** What stands at each question, by its beginning. Empty answers are not among them. */
  answers: z.array(z.object({ question: QuestionId, text: z.string(), letters: z.int() })),
  strokes: z.int(),
  unread: z.int(),
});
export type RoomRow = z.infer<typeof RoomRow>;

/** How many of these questions have an answer. */
export function answeredIn(row: RoomRow, questions: readonly QuestionId[]): number {
  const wanted = new Set<string>(questions);
  return row.answers.filter((a) => wanted.has(a.question)).length;
}

/** An open copy says so every few seconds; not heard of for longer than this, in milliseconds, it is away. */
export const AWAY_MS = 20_000;

/** Whether the copy is open on a device that was heard of lately; a change counts as much as saying so. */
export function isHere(row: RoomRow, now: number): boolean {
  return row.hereAt !== null && now - Math.max(row.hereAt, row.workedAt ?? 0) < AWAY_MS;
}

/** Silent for longer than this, in milliseconds, a student may be stuck. */
export const SILENT_MS = 4 * 60_000;

/** Milliseconds since the last change; null when nothing was written yet or the copy is handed in. */
export function silenceOf(row: RoomRow, now: number): number | null {
  return row.place !== 'with-student' || row.workedAt === null ? null : Math.max(0, now - row.workedAt);
}

export type RoomOrder = 'name' | 'progress' | 'silence' | 'key';

/** The questions at which a whole answer stands that misses its key, in the order they are asked; one that is only seen in part is not judged. */
export function missesKey(
  row: Pick<RoomRow, 'answers'>,
  keys: AnswerKeys,
  questions: readonly QuestionId[],
): QuestionId[] {
  return questions.filter((id) => {
    const key = keys[id];
    const answer = row.answers.find((a) => a.question === id);
    if (!key || !answer || answer.letters > answer.text.length) return false;
    return byKey(key, answer.text, 100).verdict !== 'right';
  });
}

/**
 * The rows in an order to look at them: by name; by progress, who has least first; by silence, who is silent longest first
 * and who never began before all; by key, who misses most keys first. Who has handed in comes last in the latter two, and the order by name stays among equals.
 */
export function inRoomOrder(
  rows: readonly RoomRow[],
  order: RoomOrder,
  questions: readonly QuestionId[],
  keys: AnswerKeys = {},
): RoomRow[] {
  const byName = [...rows].sort(
    (a, b) =>
      compareNames(a.student.family, b.student.family) || compareNames(a.student.given, b.student.given),
  );
  if (order === 'name') return byName;
  const away = (r: RoomRow) => (r.place === 'with-student' && !r.excused ? 0 : 1);
  const key = {
    progress: (r: RoomRow) => answeredIn(r, questions),
    silence: (r: RoomRow) => r.workedAt ?? Number.NEGATIVE_INFINITY,
    key: (r: RoomRow) => -missesKey(r, keys, questions).length,
  }[order];
  // What misses the key is looked at wherever it is.
  if (order === 'key') return byName.sort((a, b) => compare(key(a), key(b)));
  return byName.sort((a, b) => away(a) - away(b) || compare(key(a), key(b)));
}

const compare = (a: number, b: number) => (a === b ? 0 : a < b ? -1 : 1);

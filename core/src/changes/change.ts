import * as z from 'zod';
import { ChangeId, type MarkId, QuestionId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { MAX_POINTS } from '../points/points.ts';

/** What stands on the score slip besides the marks: the grade in hundredths of a point, the closing words, and whether it is marked. */
export const SlipValues = {
  grade: z.int().min(0).max(MAX_POINTS).nullable(),
  closing: z.string().max(6000),
  done: z.boolean(),
};
export type SlipField = keyof typeof SlipValues;
export type SlipValue<F extends SlipField> = z.infer<(typeof SlipValues)[F]>;

/** What a student writes into one answer. A choice is its chosen options, one a line. */
export const AnswerText = z.string().max(6000);

const base = {
  id: ChangeId,
  /** The change that made what this one was made on: null when nothing stood there. A wrong base is a conflict. */
  base: ChangeId.nullable(),
};

const write = <F extends SlipField>(field: F) =>
  z.object({
    ...base,
    type: z.literal('write'),
    field: z.literal(field),
    value: SlipValues[field],
    was: SlipValues[field],
  });

const onMarks = [
  z.object({ ...base, type: z.literal('put'), mark: Mark, was: Mark.nullable() }),
  z.object({ ...base, type: z.literal('remove'), mark: Mark }),
] as const;
const answer = z.object({
  ...base,
  type: z.literal('answer'),
  question: QuestionId,
  value: AnswerText,
  was: AnswerText,
  /** Letters of it that were pasted, not typed. */
  pasted: z.int().min(0).max(6000).optional(),
});

/** What a teacher does to a marking. */
export const MarkingChange = z.union([...onMarks, write('grade'), write('closing'), write('done')]);
export type MarkingChange = z.infer<typeof MarkingChange>;

/** What a student does to their copy: drawing and answers. */
export const CopyChange = z.union([...onMarks, answer]);
export type CopyChange = z.infer<typeof CopyChange>;

/**
 * A change to a marking, or to a student's own copy, is a value: it can be applied, inverted, sent, kept and sent again (a change sent twice
 * counts once, by its id).
 *
 * Law: with `t = applyChange(s, c)`, `applyChange(t, invertChange(c, …))` shows the same values as `s`; and a change,
 * its inverse and the inverse of that all survive JSON.
 */
export const Change = z.union([MarkingChange, CopyChange]);
export type Change = z.infer<typeof Change>;

/** What a change is about: one mark, one field of the slip or one answer. Two changes with the same subject can be in conflict. */
export type Subject = MarkId | `slip:${SlipField}` | `answer:${QuestionId}`;

export function subjectOf(change: Change): Subject {
  switch (change.type) {
    case 'write':
      return `slip:${change.field}`;
    case 'answer':
      return `answer:${change.question}`;
    default:
      return change.mark.id;
  }
}

/** The change that takes this one back; `base` is the version that stands there now. */
export function invertChange(change: Change, id: ChangeId, base: ChangeId | null): Change {
  switch (change.type) {
    case 'put':
      return change.was
        ? { id, base, type: 'put', mark: change.was, was: change.mark }
        : { id, base, type: 'remove', mark: change.mark };
    case 'remove':
      return { id, base, type: 'put', mark: change.mark, was: null };
    case 'write':
    case 'answer':
      return { ...change, id, base, value: change.was, was: change.value } as Change;
  }
}

/** A gesture is the smallest thing that is undone at once: a stroke, one sweep of the eraser, one edit of a note. */
export type Gesture = readonly Change[];

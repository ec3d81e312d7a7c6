import * as z from 'zod';
import { ChangeId, MarkId, QuestionId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { fitsScore, Score, ScoreOf } from '../scores/score.ts';
import { SLIP, SLIP_FIELDS, type SlipField, type SlipValue } from './slip.ts';

/** What a student writes into one answer. A choice is its chosen options, one a line. */
export const AnswerText = z.string().max(6000);

const base = {
  id: ChangeId,
  /** The change that made what this one was made on: null when nothing stood there. A wrong base is a conflict. */
  base: ChangeId.nullable(),
};

interface WriteOf<F extends SlipField> {
  id: ChangeId;
  base: ChangeId | null;
  type: 'write';
  field: F;
  value: SlipValue<F>;
  was: SlipValue<F>;
}
export type WriteChange = { [F in SlipField]: WriteOf<F> }[SlipField];

const writes = SLIP_FIELDS.map((field) =>
  z.object({
    ...base,
    type: z.literal('write'),
    field: z.literal(field),
    value: SLIP[field].schema,
    was: SLIP[field].schema,
  }),
);
const Write = z.discriminatedUnion(
  'field',
  writes as [(typeof writes)[number], ...(typeof writes)[number][]],
) as unknown as z.ZodType<WriteChange> & z.core.$ZodTypeDiscriminable;

const put = z.object({ ...base, type: z.literal('put'), mark: Mark, was: Mark.nullable() });
const remove = z.object({
  ...base,
  type: z.literal('remove'),
  of: MarkId,
  /** What stood there, so that it can be taken back; null: it is only known that it went. */
  was: Mark.nullable(),
});
const answer = z.object({
  ...base,
  type: z.literal('answer'),
  question: QuestionId,
  value: AnswerText,
  was: AnswerText,
  /** Letters of it that were pasted, not typed. */
  pasted: z.int().min(0).max(6000).optional(),
});

/** What was written into a text that several may write at once: what is merged into it, in base64. No larger than a text of a hundred thousand words with its history. */
export const TextUpdate = z.base64().min(1).max(8_000_000);
const text = z.object({
  ...base,
  type: z.literal('text'),
  question: QuestionId,
  update: TextUpdate,
  /** Letters of it that were pasted, not typed. */
  pasted: z.int().min(0).max(1_000_000).optional(),
});
export type TextChange = z.infer<typeof text>;

/** A question or a criterion is scored; null: its score is taken away. */
const score = z
  .object({ ...base, type: z.literal('score'), of: ScoreOf, value: Score.nullable(), was: Score.nullable() })
  .refine((c) => fitsScore(c.of, c.value) && fitsScore(c.of, c.was), 'a score of what is scored');
export type ScoreChange = z.infer<typeof score>;

/** What a teacher does to a marking. */
export const MarkingChange = z.discriminatedUnion('type', [put, remove, Write, score]);
export type MarkingChange = z.infer<typeof put> | z.infer<typeof remove> | WriteChange | ScoreChange;

/** What a student does to their copy: drawing and answers. */
export const CopyChange = z.discriminatedUnion('type', [put, remove, answer, text]);
export type CopyChange = z.infer<typeof CopyChange>;

/**
 * A change to a marking, or to a student's own copy, is a value: it can be applied, inverted, sent, kept and sent again (a change sent twice
 * counts once, by its id).
 *
 * Law: with `t = applyChange(s, c)`, `applyChange(t, invertChange(c, …))` shows the same values as `s`; and a change,
 * its inverse and the inverse of that all survive JSON. A removal that does not know what it took has no inverse, nor has what was merged into a text: the
 * editor takes that back by writing again.
 */
export const Change = z.discriminatedUnion('type', [put, remove, Write, score, answer, text]);
export type Change = MarkingChange | CopyChange;

/** What a change is about: one mark, one field of the slip, one score or one answer. Two changes with the same subject can be in conflict. */
export type Subject =
  | MarkId
  | `slip:${SlipField}`
  | `score:${ScoreOf}`
  | `answer:${QuestionId}`
  | `text:${QuestionId}`;

export function subjectOf(change: Change): Subject {
  switch (change.type) {
    case 'write':
      return `slip:${change.field}`;
    case 'score':
      return `score:${change.of}`;
    case 'answer':
      return `answer:${change.question}`;
    case 'text':
      return `text:${change.question}`;
    default:
      return markOf(change);
  }
}

/** Which mark a change is about that is about one. */
export const markOf = (change: Extract<Change, { type: 'put' | 'remove' }>): MarkId =>
  change.type === 'put' ? change.mark.id : change.of;

/** The change that takes this one back; `base` is the version that stands there now. Null: what a removal took is not known. */
export function invertChange(change: Change, id: ChangeId, base: ChangeId | null): Change | null {
  switch (change.type) {
    case 'put':
      return change.was
        ? { id, base, type: 'put', mark: change.was, was: change.mark }
        : { id, base, type: 'remove', of: change.mark.id, was: change.mark };
    case 'remove':
      return change.was && { id, base, type: 'put', mark: change.was, was: null };
    case 'text':
      return null;
    case 'write':
    case 'score':
    case 'answer':
      return { ...change, id, base, value: change.was, was: change.value } as Change;
  }
}

/** A gesture is the smallest thing that is undone at once: a stroke, one sweep of the eraser, one edit of a note. */
export type Gesture = readonly Change[];

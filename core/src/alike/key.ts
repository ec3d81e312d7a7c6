import * as z from 'zod';
import { chosenOf, readNumber } from '../answers/answer.ts';
import { QuestionId } from '../ids/id.ts';
import type { Question } from '../questions/question.ts';
import { normalAnswer } from './normal.ts';

/** A number as it is typed in a key: exact as written. */
const Written = z
  .string()
  .trim()
  .max(40)
  .refine((t) => readNumber(t) !== null, 'a number');

/** What a question's answer should be. Students never see it before their copy came back. */
export const AnswerKey = z.discriminatedUnion('of', [
  z.object({
    of: z.literal('wordings'),
    accepted: z.array(z.string().trim().min(1).max(400)).min(1).max(40),
  }),
  z.object({
    of: z.literal('number'),
    value: Written,
    /** How far off it may be, either way; "0" for exactly. */
    tolerance: Written,
    /** Empty: none is asked for. */
    unit: z.string().trim().max(20),
  }),
  z.object({ of: z.literal('choice'), options: z.array(z.string().trim().min(1).max(200)).min(1).max(20) }),
]);
export type AnswerKey = z.infer<typeof AnswerKey>;

/** The keys of a worksheet, by question. */
export const AnswerKeys = z.record(QuestionId, AnswerKey);
export type AnswerKeys = z.infer<typeof AnswerKeys>;

export interface ByKey {
  /** `other-unit`: the number is right, its unit is not the one asked for. `part`: some of several choices. */
  readonly verdict: 'right' | 'part' | 'other-unit' | 'wrong' | 'empty';
  /** What core offers, in hundredths; null: the teacher decides. It is never given by itself. */
  readonly offers: number | null;
}

/**
 * What the key says of an answer. Wordings are compared after case, spaces and number format; a number within its tolerance; of several choices each right one
 * counts and each wrong one takes one away. `most` in hundredths.
 */
export function byKey(key: AnswerKey, answer: string, most: number): ByKey {
  if (answer.trim() === '') return { verdict: 'empty', offers: 0 };
  switch (key.of) {
    case 'wordings': {
      const normal = normalAnswer(answer);
      const right = key.accepted.some((a) => normalAnswer(a) === normal);
      return right ? { verdict: 'right', offers: most } : { verdict: 'wrong', offers: null };
    }
    case 'number':
      return numberByKey(key, answer, most);
    case 'choice':
      return choiceByKey(key, answer, most);
  }
}

function numberByKey(key: Extract<AnswerKey, { of: 'number' }>, answer: string, most: number): ByKey {
  const match = /^([-+−–]?\s*[\d.,\s' ]*\d[\d.,]*|[.,]\d+)\s*(.*)$/.exec(answer.trim());
  const number = match && readNumber(match[1]!.replace(/\s+$/, ''));
  if (number === null || number === undefined) return { verdict: 'wrong', offers: null };
  const { value, tolerance } = {
    value: readNumber(key.value)!,
    tolerance: Math.abs(readNumber(key.tolerance)!),
  };
  // Typed decimals have no exact binary form: 0.3 − 0.1 must lie within 0.2.
  const near = Math.abs(number - value) <= tolerance + 1e-9 * Math.max(1, Math.abs(value), tolerance);
  if (!near) return { verdict: 'wrong', offers: null };
  const unit = normalAnswer(match![2]!).replace(/\.$/, '');
  const wanted = normalAnswer(key.unit);
  // A unit that is printed beside the answer need not be written.
  if (unit !== '' && wanted !== '' && unit !== wanted) return { verdict: 'other-unit', offers: null };
  return { verdict: 'right', offers: most };
}

function choiceByKey(key: Extract<AnswerKey, { of: 'choice' }>, answer: string, most: number): ByKey {
  const chosen = chosenOf(answer);
  const right = chosen.filter((o) => key.options.includes(o)).length;
  const wrong = chosen.length - right;
  if (wrong === 0 && right === key.options.length) return { verdict: 'right', offers: most };
  const counts = Math.max(0, right - wrong);
  if (key.options.length < 2 || counts === 0) return { verdict: 'wrong', offers: 0 };
  return { verdict: 'part', offers: Math.floor((most * counts) / key.options.length) };
}

/** Whether this kind of answer can have a key, and which. */
export function keyFor(answer: Question['answer']): AnswerKey['of'] | null {
  switch (answer.kind) {
    case 'line':
    case 'paragraph':
      return 'wordings';
    case 'number':
      return 'number';
    case 'choice':
      return 'choice';
    case 'long':
    case 'drawing':
    case 'none':
      return null;
  }
}

/** Whether a key still fits its question: the kind of answer or the options may have changed since. */
export function keyFits(key: AnswerKey, answer: Question['answer']): boolean {
  if (keyFor(answer) !== key.of) return false;
  return (
    key.of !== 'choice' || (answer.kind === 'choice' && key.options.every((o) => answer.options.includes(o)))
  );
}

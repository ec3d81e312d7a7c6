import type { QuestionId } from '../ids/id.ts';
import { inPageOrder, type Question } from '../questions/question.ts';

/** The options chosen in a choice's answer. */
export function chosenOf(value: string): string[] {
  return value === '' ? [] : value.split('\n');
}

/** The answer after an option was tapped: chosen or let go; of a single choice the one before goes. Options keep their order. */
export function choose(question: Question, value: string, option: string): string {
  if (question.answer.kind !== 'choice') return value;
  const { options, several } = question.answer;
  const before = chosenOf(value);
  const has = before.includes(option);
  if (!several) return has ? '' : option;
  return options.filter((o) => (o === option ? !has : before.includes(o))).join('\n');
}

/** "3,5" and "3.5", "−4", "1 200": a number as a student writes it; null when it is none. */
export function readNumber(text: string): number | null {
  const tidy = text
    .trim()
    .replace(/^[−–]/, '-')
    .replace(/(\d)[\s\u00a0\u202f'](?=\d{3}\b)/g, '$1')
    .replace(',', '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(tidy) ? Number(tidy) : null;
}

/** Takes something that is typed or chosen. */
export const takesWords = (q: Question): boolean => q.answer.kind !== 'none' && q.answer.kind !== 'drawing';

export interface Unanswered {
  readonly id: QuestionId;
  /** Why it is pointed out: nothing there, or not a number where one is asked for. */
  readonly why: 'empty' | 'not-a-number';
}

/**
 * What the check before handing in points out, in page order. A drawing counts as answered when a stroke touches its region:
 * `drawnOn` tells.
 */
export function unanswered(
  questions: readonly Question[],
  answers: ReadonlyMap<QuestionId, string>,
  drawnOn: (question: Question) => boolean,
): Unanswered[] {
  const out: Unanswered[] = [];
  for (const q of inPageOrder(questions)) {
    if (q.answer.kind === 'none') continue;
    const text = (answers.get(q.id) ?? '').trim();
    if (q.answer.kind === 'drawing' ? !drawnOn(q) : text === '' && !drawnOn(q))
      out.push({ id: q.id, why: 'empty' });
    else if (q.answer.kind === 'number' && text !== '' && readNumber(text) === null)
      out.push({ id: q.id, why: 'not-a-number' });
  }
  return out;
}

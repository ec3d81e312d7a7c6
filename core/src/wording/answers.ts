import type { QuestionId } from '../ids/id.ts';
import type { Suggestion } from '../marks/mark.ts';
import { fitOf, type Taken, takeSuggestion } from './take.ts';

/** In which of these answers a suggestion's words stand, by what stands round them; null: in none. */
export function answerOf(
  mark: Suggestion,
  answers: Iterable<readonly [QuestionId, string]>,
): QuestionId | null {
  let best: QuestionId | null = null;
  let most = -1;
  for (const [question, text] of answers) {
    const fit = fitOf(text, mark.place.quote);
    if (fit > most) [best, most] = [question, fit];
  }
  return best;
}

/** A suggestion taken on the typed answers of a copy: which answer says what now. It is in none of them where its words are drawn, in a file, or gone. */
export function takeOnAnswers(
  mark: Suggestion,
  answers: ReadonlyMap<QuestionId, string>,
): (Extract<Taken, { ok: true }> & { readonly question: QuestionId }) | { readonly ok: false } {
  const question = answerOf(mark, answers);
  if (question === null) return { ok: false };
  const taken = takeSuggestion(answers.get(question)!, mark);
  return taken.ok ? { ...taken, question } : { ok: false };
}

import type { Box } from '../geometry/box.ts';
import type { QuestionId } from '../ids/id.ts';
import type { FoundPlace } from './find-places.ts';
import { numberQuestions, type Question, readLabel } from './question.ts';

/** Two boxes share more than a touch of their edges, in points. */
const TOUCH = 4;
const touch = (a: Box, b: Box) =>
  Math.min(a[2], b[2]) - Math.max(a[0], b[0]) > TOUCH && Math.min(a[3], b[3]) - Math.max(a[1], b[1]) > TOUCH;

/** The offered places where no question stands yet. */
export const freePlaces = (offered: readonly FoundPlace[], questions: readonly Question[]): FoundPlace[] =>
  offered.filter((o) => !questions.some((q) => q.page === o.page && touch(q.box, o.box)));

/** Questions at these places, labelled and worth what is printed there. */
export const questionsAt = (places: readonly FoundPlace[], newId: () => QuestionId): Question[] =>
  places.map((place) => ({
    id: newId(),
    page: place.page,
    box: place.box,
    part: place.label !== null && /[a-z]$/i.test(place.label),
    label: place.label,
    points: place.points,
    answer: place.answer,
  }));

/** Labels that say what numbering says anyway are left to it, so that later questions move up by themselves. */
export function settleLabels(made: readonly Question[]): Question[] {
  const alone = numberQuestions(made.map((q) => ({ ...q, label: null })));
  const agree = made.every(
    (q) => q.label === null || readLabel(q.label) === null || alone.get(q.id) === q.label,
  );
  return made.map((q) => (agree ? { ...q, label: null } : q));
}

import type { QuestionId } from '@jotmark/core';

/** Brings the answer to a question into the middle of its scroller, if it is not in sight already. */
export function answerIntoSight(scroller: HTMLElement | null, question: QuestionId): void {
  const field = scroller?.querySelector(`[data-question="${question}"]`);
  if (!scroller || !field) return;
  const seen = field.getBoundingClientRect();
  const room = scroller.getBoundingClientRect();
  if (seen.top < room.top || seen.bottom > room.bottom - 60) field.scrollIntoView({ block: 'center' });
}

import type { Mark } from './mark.ts';

/** Of a mark on film or sound its moment, in ms from the beginning; null for marks on pages. */
export function momentOf(mark: Mark): number | null {
  if (mark.kind === 'note' && mark.place.on === 'moment') return mark.place.at;
  return mark.kind === 'stamp' ? (mark.moment ?? null) : null;
}

/** Of these the marks on film and sound, in the order of time; of two at one moment the one that was made first. */
export function inTimeOrder(marks: readonly Mark[]): Mark[] {
  return marks
    .filter((m) => momentOf(m) !== null)
    .sort((a, b) => momentOf(a)! - momentOf(b)! || (a.id < b.id ? -1 : 1));
}

/** The same mark at another moment; one on a page is given back as it is. */
export function atMoment(mark: Mark, ms: number): Mark {
  if (mark.kind === 'note' && mark.place.on === 'moment')
    return { ...mark, place: { on: 'moment', at: Math.max(0, Math.round(ms)) } };
  return mark.kind === 'stamp' && mark.moment !== undefined
    ? { ...mark, moment: Math.max(0, Math.round(ms)) }
    : mark;
}

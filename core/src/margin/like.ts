import { saysSame } from '../bank/near.ts';
import { type Mark, MOST_ALSO, type NoteMark } from '../marks/mark.ts';
import { canStandElsewhere, gatherNotes, type NotePlace, type PatternNote } from '../marks/pattern.ts';

/** Notes that say the same, as they could be one pattern note; in the order in which they stand. */
export function likeNotes(marks: readonly Mark[]): PatternNote[][] {
  const groups = new Map<string, PatternNote[]>();
  for (const mark of marks) {
    if (!canStandElsewhere(mark) || mark.words.trim() === '') continue;
    const key = `${mark.focus ?? ''} ${mark.points ?? ''} ${saysSame(mark.words)}`;
    groups.set(key, [...(groups.get(key) ?? []), mark]);
  }
  return [...groups.values()].filter((g) => g.length > 1);
}

/** Suggestions that put the same right: the same words swapped for the same, or cut. Each further one could be found by the student. */
export function likeSuggestions(marks: readonly Mark[]): Mark[][] {
  const groups = new Map<string, Mark[]>();
  for (const mark of marks) {
    if (mark.kind !== 'swap' && mark.kind !== 'cut') continue;
    const key = `${mark.kind} ${saysSame(mark.place.quote.exact)} ${mark.kind === 'swap' ? mark.words.trim() : ''}`;
    groups.set(key, [...(groups.get(key) ?? []), mark]);
  }
  return [...groups.values()].filter((g) => g.length > 1);
}

/** So many notes on one page are many: who reads them no longer sees what matters. */
export const MANY_NOTES = 8;

/** What a gathering does: which marks go, which notes come in their place or are another now. */
export interface Gathered {
  readonly gone: readonly Mark[];
  readonly come: readonly NoteMark[];
  readonly now: readonly { readonly was: Mark; readonly now: NoteMark }[];
}

/** "Show once, then let them find": a note at these places that does not say what would put it right. */
export function findYourself(
  like: Mark,
  places: readonly NotePlace[],
  id: NoteMark['id'],
  words: string,
): NoteMark | null {
  const [first, ...also] = places;
  if (!first) return null;
  const { v, colour, focus, sign, madeAt } = like;
  const base = {
    v,
    id,
    colour,
    focus,
    ...(sign && { sign }),
    madeAt,
    kind: 'note' as const,
    words,
    ...first,
  };
  return also.length ? { ...base, also: also.slice(0, MOST_ALSO) } : base;
}

/**
 * Like corrections as few notes: notes that say the same become one at many places; of suggestions that put the same right the first stands and a note
 * without the words stands for the others.
 */
export function gatherAlike(marks: readonly Mark[], newId: () => NoteMark['id'], words: string): Gathered {
  const gone: Mark[] = [];
  const come: NoteMark[] = [];
  const now: { was: Mark; now: NoteMark }[] = [];
  for (const group of likeNotes(marks)) {
    const gathered = gatherNotes(group);
    if (!gathered) continue;
    gone.push(...gathered.gone);
    now.push({ was: group[0]!, now: gathered.note });
  }
  for (const [first, ...others] of likeSuggestions(marks)) {
    const note = findYourself(first!, others.flatMap(placeOfWords), newId(), words);
    if (!note) continue;
    gone.push(...others);
    come.push(note);
  }
  return { gone, come, now };
}

const placeOfWords = (m: Mark): NotePlace[] =>
  m.kind === 'swap' || m.kind === 'cut' ? [{ document: m.document, page: m.page, place: m.place }] : [];

import { type AlsoAt, type Mark, MOST_ALSO, type NoteMark, type Passage, type Spot } from './mark.ts';

/** A place at which a note stands. */
export type NotePlace = AlsoAt;
/** A note that may stand at many places: one on a passage or a spot. */
export type PatternNote = NoteMark & { readonly place: Passage | Spot };

export const canStandElsewhere = (mark: Mark): mark is PatternNote =>
  mark.kind === 'note' && (mark.place.on === 'passage' || mark.place.on === 'spot');

const origins = new WeakMap<Mark, NoteMark>();
const made = new WeakMap<NoteMark, readonly NoteMark[]>();

/**
 * A pattern note as it stands at its other places: a note of the same id for each, so that whatever draws, finds and picks marks needs to know nothing
 * of patterns. They are shown, never stored; `originOf` leads back. The same note gives the same values each time.
 */
export function echoesOf(mark: Mark): readonly NoteMark[] {
  if (mark.kind !== 'note' || !mark.also) return NONE;
  const known = made.get(mark);
  if (known) return known;
  const { also, ...rest } = mark;
  const echoes = also.map((at) => {
    const echo: NoteMark = { ...rest, ...at };
    origins.set(echo, mark);
    return echo;
  });
  made.set(mark, echoes);
  return echoes;
}

const NONE: readonly NoteMark[] = [];

/** Whether this is a pattern note at one of its other places. */
export const isEcho = (mark: Mark): boolean => origins.has(mark);

/** The note that an echo belongs to; any other mark is itself. */
export const originOf = (mark: Mark): Mark => origins.get(mark) ?? mark;

/** All marks with the other places of pattern notes behind each. The same list where there are none. */
export function withEchoes(marks: readonly Mark[]): readonly Mark[] {
  return marks.some((m) => m.kind === 'note' && m.also) ? marks.flatMap((m) => [m, ...echoesOf(m)]) : marks;
}

/** At how many places a note stands. */
export const placesOf = (note: NoteMark): number => 1 + (note.also?.length ?? 0);

/** Whether two places are the same words, or spots within a sign's width of each other. */
function samePlace(a: NotePlace, b: NotePlace): boolean {
  if (a.document !== b.document || a.page !== b.page) return false;
  if (a.place.on === 'spot' && b.place.on === 'spot')
    return Math.hypot(a.place.x - b.place.x, a.place.y - b.place.y) < 2;
  if (a.place.on === 'passage' && b.place.on === 'passage')
    return a.place.quote.start < b.place.quote.end && b.place.quote.start < a.place.quote.end;
  return false;
}

/** The note at these places as well. Where it stands already it is not put twice; more than it can hold are left away. */
export function standsAlso(note: PatternNote, places: readonly NotePlace[]): PatternNote {
  const first: NotePlace = { document: note.document, page: note.page, place: note.place };
  const also = [...(note.also ?? [])];
  for (const at of places)
    if (also.length < MOST_ALSO && ![first, ...also].some((there) => samePlace(there, at))) also.push(at);
  return also.length === (note.also?.length ?? 0) ? note : { ...note, also };
}

/** The note without the place of one of its echoes. The last one leaves a plain note. */
export function standsNotAt(note: NoteMark, echo: Mark): NoteMark {
  const at = echoesOf(note).indexOf(echo as NoteMark);
  if (at < 0 || !note.also) return note;
  const { also, ...plain } = note;
  const left = also.filter((_, i) => i !== at);
  return left.length ? { ...plain, also: left } : plain;
}

/** What an eraser takes that went over some of the places of pattern notes: those places, not the notes. `now` is each note as it is left. */
export function erasedPlaces(gone: readonly Mark[]): {
  readonly marks: readonly Mark[];
  readonly left: readonly { readonly was: NoteMark; readonly now: NoteMark }[];
} {
  const marks = gone.filter((m) => !isEcho(m));
  const left = new Map<NoteMark, NoteMark>();
  for (const echo of gone) {
    const was = origins.get(echo);
    if (!was || marks.some((m) => m.id === was.id)) continue;
    const now = left.get(was) ?? was;
    const place = echoesOf(now).find((e) => samePlace(placeOf(e), placeOf(echo as NoteMark)));
    if (place) left.set(was, standsNotAt(now, place));
  }
  return { marks, left: [...left].map(([was, now]) => ({ was, now })) };
}

const placeOf = (note: NoteMark): NotePlace => ({
  document: note.document,
  page: note.page,
  place: note.place as NotePlace['place'],
});

/** One pattern note of several that say the same: the first in reading order stands, the others become its places. `null` where fewer than two can. */
export function gatherNotes(
  notes: readonly Mark[],
): { readonly gone: readonly NoteMark[]; readonly note: PatternNote } | null {
  const able = notes.filter(canStandElsewhere);
  const [first, ...others] = able;
  if (!first || others.length === 0) return null;
  const places = others.flatMap((n): NotePlace[] => [
    { document: n.document, page: n.page, place: n.place },
    ...(n.also ?? []),
  ]);
  const replies = able.flatMap((n) => n.replies ?? []).slice(0, 50);
  const note = standsAlso(first, places);
  return { gone: others, note: replies.length ? { ...note, replies } : note };
}

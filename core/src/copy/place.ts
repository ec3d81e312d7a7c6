import * as z from 'zod';

/** The six places a copy can be in. */
export const Place = z.enum(['with-student', 'in', 'being-marked', 'marked', 'handed-back', 'in-again']);
export type Place = z.infer<typeof Place>;

/** What is known of a copy. `handedBack` is the number of the newest hand-in that was handed back, 0 for none. */
export interface CopyFacts {
  readonly handIns: number;
  readonly handedBack: number;
  /** The marking of the newest hand-in; null while nobody has touched it. */
  readonly marking: { readonly done: boolean } | null;
  /** It was scored and handed back though nothing came in: a talk, work on paper. */
  readonly backAlone: boolean;
}

/** Where the copy is, for the teacher. */
export function placeOf(facts: CopyFacts): Place {
  // Nothing came in: it stays with its student until it is called marked, whatever was scored.
  if (facts.handIns === 0)
    return facts.backAlone ? 'handed-back' : facts.marking?.done ? 'marked' : 'with-student';
  if (facts.handedBack >= facts.handIns) return 'handed-back';
  if (facts.marking) return facts.marking.done ? 'marked' : 'being-marked';
  return facts.handIns > 1 ? 'in-again' : 'in';
}

/** Where the copy is, as far as the student may know: marking that was not handed back leaves no trace. */
export function placeForStudent(facts: Omit<CopyFacts, 'marking'>): Place {
  return placeOf({ ...facts, marking: null });
}

/** Can be marked and is not yet marked. */
export function waits(place: Place): boolean {
  return place === 'in' || place === 'in-again' || place === 'being-marked';
}

import type { ChangeId } from '../ids/id.ts';
import { type Change, type Subject, subjectOf } from './change.ts';

export type Verdict = 'apply' | 'already' | 'conflict';

/**
 * What the keeper of the marking does with a change that arrives: `version` is the change that made what stands at
 * its subject now (null: nothing has), `known` whether this very change was committed before.
 */
export function judge(change: Change, version: ChangeId | null, known: boolean): Verdict {
  if (known) return 'already';
  // A text merges whatever was written into it meanwhile.
  if (change.type === 'text') return 'apply';
  return version === change.base ? 'apply' : 'conflict';
}

/** Why a change is refused, whatever it was made on. */
export type Refusal =
  | 'above-most'
  | 'ungraded'
  | 'handed-back'
  | 'no-such-page'
  | 'handed-in'
  | 'no-such-question'
  | 'text-full'
  | 'no-text'
  | 'not-yours'
  | 'no-such-picture'
  | 'no-such-voice';

/** What is known when a batch arrives. */
export interface Standing {
  /** The number of the newest change that was taken. */
  readonly seq: number;
  /** Of the changes of the batch: those that were taken before, and as which number. */
  readonly taken: ReadonlyMap<ChangeId, number>;
  /** The change that made what stands at a subject; nothing, where nothing stands. */
  readonly versions: ReadonlyMap<Subject, ChangeId | null>;
}

export interface Judged<C extends Change> {
  readonly seq: number;
  readonly results: {
    id: ChangeId;
    outcome: 'applied' | 'already' | 'conflict' | 'refused';
    reason: Refusal | null;
    seq: number | null;
  }[];
  /** What is to be kept, in order, each with its number. */
  readonly accepted: readonly { readonly change: C; readonly seq: number }[];
}

/**
 * Judges a batch in order, for markings and for copies alike: each change counts once, by its id; one that may not be is refused; one made on something
 * that no longer stands is a conflict and changes nothing; the others get the next numbers.
 */
export function judgeBatch<C extends Change>(
  changes: readonly C[],
  known: Standing,
  refuse: (change: C) => Refusal | null,
): Judged<C> {
  const taken = new Map(known.taken);
  const versions = new Map(known.versions);
  const accepted: { change: C; seq: number }[] = [];
  let { seq } = known;
  const results = changes.map((change): Judged<C>['results'][number] => {
    const { id } = change;
    const before = taken.get(id);
    if (before !== undefined) return { id, outcome: 'already', reason: null, seq: before };
    const reason = refuse(change);
    if (reason) return { id, outcome: 'refused', reason, seq: null };
    const subject = subjectOf(change);
    if (judge(change, versions.get(subject) ?? null, false) === 'conflict')
      return { id, outcome: 'conflict', reason: null, seq: null };
    seq++;
    taken.set(id, seq);
    versions.set(subject, id);
    accepted.push({ change, seq });
    return { id, outcome: 'applied', reason: null, seq };
  });
  return { seq, results, accepted };
}

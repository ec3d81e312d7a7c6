import type { ChangeId, MarkId, QuestionId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import type { Score, ScoreOf, Scores } from '../scores/score.ts';
import { type Change, markOf, type Subject, subjectOf } from './change.ts';
import { eachSlipField, SLIP, type SlipField, type SlipValue } from './slip.ts';

/** A value and the change that made it; version null: nobody has touched it yet. */
export interface Versioned<T> {
  readonly value: T;
  readonly version: ChangeId | null;
}

/**
 * One marking as it stands: all marks and scores (null: taken away, its version is kept) and the slip. A student's copy is one too:
 * its drawing are the marks, and it has answers instead of a slip. Immutable.
 */
export interface Sheet {
  readonly marks: ReadonlyMap<MarkId, Versioned<Mark | null>>;
  readonly slip: { readonly [F in SlipField]: Versioned<SlipValue<F>> };
  readonly scores: ReadonlyMap<ScoreOf, Versioned<Score | null>>;
  readonly answers: ReadonlyMap<QuestionId, Versioned<string>>;
  /** What was written into texts that several may write at once, in the order it came. Merging it twice changes nothing. */
  readonly texts: ReadonlyMap<QuestionId, readonly string[]>;
}

export const EMPTY_SHEET: Sheet = {
  marks: new Map(),
  slip: eachSlipField((field) => ({ value: SLIP[field].empty, version: null })) as Sheet['slip'],
  scores: new Map(),
  answers: new Map(),
  texts: new Map(),
};

/** The sheet after the change. The base is not looked at: see `judge`. A change already applied gives back the same sheet. */
export function applyChange(sheet: Sheet, change: Change): Sheet {
  if (versionOf(sheet, subjectOf(change)) === change.id) return sheet;
  if (change.type === 'write')
    return { ...sheet, slip: { ...sheet.slip, [change.field]: { value: change.value, version: change.id } } };
  if (change.type === 'score') {
    const scores = new Map(sheet.scores);
    scores.set(change.of, { value: change.value, version: change.id });
    return { ...sheet, scores };
  }
  if (change.type === 'answer') {
    const answers = new Map(sheet.answers);
    answers.set(change.question, { value: change.value, version: change.id });
    return { ...sheet, answers };
  }
  if (change.type === 'text') {
    const texts = new Map(sheet.texts);
    texts.set(change.question, [...(texts.get(change.question) ?? []), change.update]);
    return { ...sheet, texts };
  }
  const marks = new Map(sheet.marks);
  marks.set(markOf(change), { value: change.type === 'put' ? change.mark : null, version: change.id });
  return { ...sheet, marks };
}

/** The sheet after all changes, one after the other as `applyChange` would; the maps are copied once, not once a change. */
export function applyAll(sheet: Sheet, changes: Iterable<Change>): Sheet {
  let out = sheet;
  let marks: Map<MarkId, Versioned<Mark | null>> | null = null;
  for (const change of changes) {
    if (change.type !== 'put' && change.type !== 'remove') {
      out = applyChange(out, change);
      continue;
    }
    const id = markOf(change);
    if ((marks ?? sheet.marks).get(id)?.version === change.id) continue;
    marks ??= new Map(sheet.marks);
    marks.set(id, { value: change.type === 'put' ? change.mark : null, version: change.id });
  }
  return marks ? { ...out, marks } : out;
}

export function versionOf(sheet: Sheet, subject: Subject): ChangeId | null {
  if (subject.startsWith('slip:')) return sheet.slip[subject.slice(5) as SlipField].version;
  if (subject.startsWith('score:')) return sheet.scores.get(subject.slice(6) as ScoreOf)?.version ?? null;
  if (subject.startsWith('answer:'))
    return sheet.answers.get(subject.slice(7) as QuestionId)?.version ?? null;
  if (subject.startsWith('text:')) return null;
  return sheet.marks.get(subject as MarkId)?.version ?? null;
}

/** The marks that stand, in the order they were made (ids sort by time): the order they are painted in. */
export function standingMarks(sheet: Sheet): Mark[] {
  const out: Mark[] = [];
  for (const { value } of sheet.marks.values()) if (value) out.push(value);
  return out.sort((a, b) => (a.id < b.id ? -1 : 1));
}

/** The scores that stand. */
export function standingScores(sheet: Pick<Sheet, 'scores'>): Scores {
  const out = new Map<ScoreOf, Score>();
  for (const [of, { value }] of sheet.scores) if (value) out.set(of, value);
  return out;
}

/** Whether a change still is the last word on its subject, so that taking it back leaves others' changes alone. */
export function stillStands(sheet: Sheet, change: Change): boolean {
  if (change.type === 'write') return same(sheet.slip[change.field].value, change.value);
  if (change.type === 'score') return same(sheet.scores.get(change.of)?.value ?? null, change.value);
  if (change.type === 'answer') return (sheet.answers.get(change.question)?.value ?? '') === change.value;
  if (change.type === 'text') return true;
  const now = sheet.marks.get(markOf(change))?.value ?? null;
  return change.type === 'put' ? same(now, change.mark) : now === null;
}

/** Equal as values: the same keys and numbers at any depth, whatever the order of keys. */
export function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) || Array.isArray(b))
    return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((v, i) => same(v, b[i]));
  const ka = Object.keys(a);
  return (
    ka.length === Object.keys(b).length &&
    ka.every(
      (k) =>
        Object.hasOwn(b, k) && same((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]),
    )
  );
}

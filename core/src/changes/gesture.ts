import type { ChangeId } from '../ids/id.ts';
import { type Change, type Gesture, markOf, subjectOf } from './change.ts';
import { type Sheet, versionOf } from './sheet.ts';

/**
 * Two gestures as one, of each subject the first "before" and the last "after": taking the merged one back gives the sheet from before both.
 * What came and went within them was never there.
 */
export function mergeGestures(first: Gesture, second: Gesture): Gesture {
  const out = [...first];
  for (const change of second) {
    const i = out.findIndex((c) => subjectOf(c) === subjectOf(change));
    const before = out[i];
    if (before?.type === 'put' && change.type === 'put') out[i] = { ...change, was: before.was };
    else if (before?.type === 'put' && change.type === 'remove') {
      if (before.was) out[i] = { ...change, was: before.was };
      else out.splice(i, 1);
    } else if (
      (before?.type === 'write' && change.type === 'write') ||
      (before?.type === 'score' && change.type === 'score') ||
      (before?.type === 'answer' && change.type === 'answer')
    )
      out[i] = { ...change, was: before.was } as Change;
    else out.push(change);
  }
  return out;
}

/** The same wish as a new change, made on what stands in this sheet now. */
export function rebaseChange(change: Change, sheet: Sheet, id: ChangeId): Change {
  const base = versionOf(sheet, subjectOf(change));
  if (change.type === 'write') return { ...change, id, base, was: sheet.slip[change.field].value } as Change;
  if (change.type === 'score')
    return { ...change, id, base, was: sheet.scores.get(change.of)?.value ?? null };
  if (change.type === 'answer')
    return { ...change, id, base, was: sheet.answers.get(change.question)?.value ?? '' };
  if (change.type === 'text') return { ...change, id };
  const now = sheet.marks.get(markOf(change))?.value ?? null;
  return { ...change, id, base, was: now };
}

import type { ChangeId } from '../ids/id.ts';
import type { MarkingChange } from './change.ts';
import { type Sheet, same, versionOf } from './sheet.ts';
import { SLIP_FIELDS } from './slip.ts';

/**
 * The changes that make a marking now show what it showed then: marks that came since go, marks that went come back, and the slip
 * says what it said. Applied to `now` they give the values of `then`; nothing for two that show the same. Like all changes
 * they can be undone.
 */
export function changesBackTo(now: Sheet, then: Sheet, newId: () => ChangeId): MarkingChange[] {
  const out: MarkingChange[] = [];
  for (const id of new Set([...now.marks.keys(), ...then.marks.keys()])) {
    const was = now.marks.get(id)?.value ?? null;
    const mark = then.marks.get(id)?.value ?? null;
    if (same(was, mark)) continue;
    const base = versionOf(now, id);
    if (mark) out.push({ id: newId(), base, type: 'put', mark, was });
    else out.push({ id: newId(), base, type: 'remove', of: id, was });
  }
  for (const of of new Set([...now.scores.keys(), ...then.scores.keys()])) {
    const was = now.scores.get(of)?.value ?? null;
    const value = then.scores.get(of)?.value ?? null;
    if (!same(was, value))
      out.push({ id: newId(), base: versionOf(now, `score:${of}`), type: 'score', of, value, was });
  }
  for (const field of SLIP_FIELDS) {
    const { value: was, version } = now.slip[field];
    const { value } = then.slip[field];
    if (!same(value, was))
      out.push({ id: newId(), base: version, type: 'write', field, value, was } as MarkingChange);
  }
  return out;
}

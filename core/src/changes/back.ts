import type { ChangeId } from '../ids/id.ts';
import type { MarkingChange } from './change.ts';
import { type Sheet, same, versionOf } from './sheet.ts';

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
    else out.push({ id: newId(), base, type: 'remove', mark: was! });
  }
  const { grade, closing, done } = now.slip;
  if (grade.value !== then.slip.grade.value)
    out.push({
      id: newId(),
      base: grade.version,
      type: 'write',
      field: 'grade',
      value: then.slip.grade.value,
      was: grade.value,
    });
  if (closing.value !== then.slip.closing.value)
    out.push({
      id: newId(),
      base: closing.version,
      type: 'write',
      field: 'closing',
      value: then.slip.closing.value,
      was: closing.value,
    });
  if (done.value !== then.slip.done.value)
    out.push({
      id: newId(),
      base: done.version,
      type: 'write',
      field: 'done',
      value: then.slip.done.value,
      was: done.value,
    });
  return out;
}

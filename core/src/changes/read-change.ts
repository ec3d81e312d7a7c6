import { readMark } from '../marks/read-mark.ts';
import { digestOf, type KeepBytes } from '../versions/digest.ts';
import { type Reading, readBy } from '../versions/reading.ts';
import { Change } from './change.ts';

/**
 * Reads a change that was kept, of any version there ever was: its marks are brought forward, and a removal names the mark it took by its id (before, it had
 * it whole). `keep` hears of bytes that lay in an older mark.
 */
export function readChange(raw: unknown, keep: KeepBytes = digestOf): Reading<Change> {
  if (typeof raw !== 'object' || raw === null) return { ok: false, expected: 'a change' };
  const change = { ...(raw as Record<string, unknown>) };
  const mark = (value: unknown) => (value == null ? null : readMark(value, null, keep));
  if (change.type === 'put') {
    change.mark = mark(change.mark);
    change.was = mark(change.was);
  } else if (change.type === 'remove') {
    const was = mark(change.was ?? change.mark);
    change.of ??= was?.id;
    change.was = was;
    delete change.mark;
  }
  return readBy(Change as never, change);
}

import type { ChangeId } from '../ids/id.ts';
import type { Change } from './change.ts';

export type Verdict = 'apply' | 'already' | 'conflict';

/**
 * What the keeper of the marking does with a change that arrives: `version` is the change that made what stands at
 * its subject now (null: nothing has), `known` whether this very change was committed before.
 */
export function judge(change: Change, version: ChangeId | null, known: boolean): Verdict {
  if (known) return 'already';
  return version === change.base ? 'apply' : 'conflict';
}

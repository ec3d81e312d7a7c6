import type { EntityManager } from 'typeorm';
import type { Statement } from '../database/batch-pool.ts';

/** What a hint is about: somebody worked, came or went, handed in, or said something. */
export type HintKind = 'work' | 'here' | 'hand-in' | 'word';

export interface Hint {
  readonly assignmentId: string;
  readonly copyId: string;
  readonly kind: HintKind;
  readonly at: Date;
}

/** Leaves a hint in the same transaction as the change it is about. Who hears it asks for what is new; who misses it loses nothing. */
export function hintStatement(what: Hint): Statement {
  return {
    sql: 'INSERT INTO event (assignment_id, copy_id, kind, at) VALUES (?, ?, ?, ?)',
    values: [what.assignmentId, what.copyId, what.kind, what.at],
  };
}

/** The same for a copy of which only the id is at hand. */
export async function hintCopy(
  db: Pick<EntityManager, 'query'>,
  copyId: string,
  kind: HintKind,
  at: Date,
): Promise<void> {
  await db.query(
    'INSERT INTO event (assignment_id, copy_id, kind, at) SELECT assignment_id, id, ?, ? FROM copy WHERE id = ?',
    [kind, at, copyId],
  );
}

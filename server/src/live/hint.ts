import type { AssignmentId, CopyId } from '@jotmark/core';
import type { Statement } from '../database/batch-pool.ts';
import { CopyTable, EventTable, type HintKind } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find } from '../database/write.ts';

export interface Hint {
  readonly assignmentId: AssignmentId;
  readonly copyId: CopyId;
  readonly kind: HintKind;
  readonly at: number;
}

/** Leaves a hint in the same packet as the change it is about. Who hears it asks for what is new; who misses it loses nothing. */
export function hintStatement(what: Hint): Statement {
  return {
    sql: 'INSERT INTO event (assignment_id, copy_id, kind, at) VALUES (?, ?, ?, ?)',
    values: [what.assignmentId, what.copyId, what.kind, new Date(what.at)],
  };
}

/** The same in a transaction of its own kind. The number is the database's. */
export async function hint(db: Db, what: Hint): Promise<void> {
  await db.createQueryBuilder().insert().into(EventTable).values(what).updateEntity(false).execute();
}

/** Many at once. */
export async function hints(db: Db, all: readonly Hint[]): Promise<void> {
  if (all.length)
    await db
      .createQueryBuilder()
      .insert()
      .into(EventTable)
      .values([...all])
      .updateEntity(false)
      .execute();
}

/** The same for a copy of which only the id is at hand. */
export async function hintCopy(db: Db, copyId: CopyId, kind: HintKind, at: number): Promise<void> {
  const copy = await find(db, CopyTable, { id: copyId });
  if (copy) await hint(db, { assignmentId: copy.assignmentId, copyId, kind, at });
}

import type { PersonId } from '../ids/id.ts';
import type { Snapshot } from './snapshot.ts';

/**
 * What one member of a group reads: with their own grade where it is not the group's, and without anybody else's. Null: nobody in particular, as the
 * teacher looks at what goes back.
 */
export function forReader(snapshot: Snapshot, reader: PersonId | null): Snapshot {
  if (!snapshot.own) return snapshot;
  const { own, ...shared } = snapshot;
  const grade = reader ? own[reader] : undefined;
  if (grade === undefined) return shared;
  // What the group's grade came from says nothing about this one.
  const { computed: _, counts: __, ...rest } = shared;
  return { ...rest, grade };
}

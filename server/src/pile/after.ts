import type { AssignmentId, HandBackId } from '@jotmark/core';
import type { Db } from '../database/pick.ts';
import { as, readRows } from '../database/pick.ts';
import type { After } from './listing.ts';

const ROW = {
  id: as.id<HandBackId>(),
  seenAt: as.maybe(as.moment),
  opened: as.int,
  done: as.int,
} as const;

/**
 * What the students of a pile did with what they got back: when they first looked, how many notes they opened, how many are done with.
 *
 * Raw: the last word at a mark is found by a window over its messages, which the query builder has no word for; it is read with every pile.
 */
export async function afterBack(db: Db, assignmentId: AssignmentId): Promise<Map<HandBackId, After>> {
  const rows = await db.query(
    `SELECT b.id,
       (SELECT MIN(o.at) FROM opened o WHERE o.hand_back_id = b.id) AS seenAt,
       (SELECT COUNT(DISTINCT o.what) FROM opened o WHERE o.hand_back_id = b.id AND o.what <> b.id) AS opened,
       COALESCE(d.done, 0) AS done
     FROM hand_back b JOIN copy c ON c.id = b.copy_id
     LEFT JOIN (SELECT t.copy_id, COUNT(*) AS done FROM (
         SELECT m.copy_id, m.act, ROW_NUMBER() OVER (PARTITION BY m.copy_id, JSON_VALUE(m.place, '$.mark') ORDER BY m.at DESC, m.id DESC) AS n
         FROM message m JOIN copy k ON k.id = m.copy_id
         WHERE k.assignment_id = ? AND m.act IS NOT NULL AND JSON_VALUE(m.place, '$.mark') IS NOT NULL) t
       WHERE t.n = 1 AND t.act <> 'reopened' GROUP BY t.copy_id) d ON d.copy_id = b.copy_id
     WHERE c.assignment_id = ? AND b.round > 0`,
    [assignmentId, assignmentId],
  );
  return new Map(readRows(rows, ROW).map(({ id, ...after }) => [id, after]));
}

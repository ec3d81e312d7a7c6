import type { AssignmentId, HandBackId } from '@jotmark/core';
import type { Db } from '../database/pick.ts';
import { as, readRows } from '../database/pick.ts';
import type { After } from './listing.ts';

const ROW = {
  id: as.id<HandBackId>(),
  seenAt: as.maybe(as.moment),
  opened: as.int,
  done: as.int,
  recordings: as.int,
  heard: as.int,
} as const;

/** When the newest hand-in of each copy that has gone back went back first, also where that was recalled: as `firstBackAt` tells it of one. */
const FIRST_BACK = `SELECT x.copy_id, MIN(x.handed_back_at) AS at FROM (${['hand_back', 'recalled_hand_back']
  .map(
    (table) => `SELECT b.copy_id, b.handed_back_at FROM ${table} b JOIN copy c ON c.id = b.copy_id
      WHERE c.assignment_id = ? AND b.round > 0 AND b.hand_in_id <=> (SELECT h.id FROM hand_in h WHERE h.copy_id = c.id ORDER BY h.number DESC LIMIT 1)`,
  )
  .join(' UNION ALL ')}) x GROUP BY x.copy_id`;

/**
 * What the students of a pile did with what they got back: when they first looked, how many notes they opened, how many are done with, how many recordings they listened to.
 *
 * Raw: the last word at a mark is found by a window over its messages, which the query builder has no word for; it is read with every pile.
 */
export async function afterBack(db: Db, assignmentId: AssignmentId): Promise<Map<HandBackId, After>> {
  const rows = await db.query(
    `SELECT b.id,
       (SELECT MIN(o.at) FROM opened o WHERE o.hand_back_id = b.id) AS seenAt,
       (SELECT COUNT(DISTINCT o.what) FROM opened o WHERE o.hand_back_id = b.id AND o.what <> b.id) AS opened,
       (SELECT COUNT(*) FROM voice_handed_back v WHERE v.hand_back_id = b.id) AS recordings,
       (SELECT COUNT(DISTINCT e.sha256) FROM heard e WHERE e.hand_back_id = b.id) AS heard,
       COALESCE(LEAST(d.done, b.notes), 0) AS done
     FROM hand_back b JOIN copy c ON c.id = b.copy_id
     LEFT JOIN (SELECT t.copy_id, COUNT(*) AS done FROM (
         SELECT m.copy_id, m.act, JSON_VALUE(m.place, '$.document') AS document,
           ROW_NUMBER() OVER (PARTITION BY m.copy_id, JSON_VALUE(m.place, '$.mark') ORDER BY m.at DESC, m.id DESC) AS n
         FROM message m JOIN copy k ON k.id = m.copy_id
         JOIN (${FIRST_BACK}) f ON f.copy_id = k.id AND m.at >= f.at
         WHERE k.assignment_id = ? AND m.act IS NOT NULL AND JSON_VALUE(m.place, '$.mark') IS NOT NULL) t
       LEFT JOIN document o ON o.id = t.document
       WHERE t.n = 1 AND (t.act IN ('declined', 'sorted') OR (t.act = 'accepted' AND o.version_id IS NOT NULL)) GROUP BY t.copy_id) d ON d.copy_id = b.copy_id
     WHERE c.assignment_id = ? AND b.round > 0`,
    [assignmentId, assignmentId, assignmentId, assignmentId],
  );
  return new Map(readRows(rows, ROW).map(({ id, ...after }) => [id, after]));
}

import type { Person, PersonId } from '@jotmark/core';
import { AttemptTable, BlobTable, CopyMemberTable, DocumentTable } from '../database/entities/index.ts';
import { as, col, type Db, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { insertOrUpdate, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

const HOUR_MS = 3_600_000;
const GIB = 1024 ** 3;
/** So often an hour somebody may type the code of a class, right or wrong. */
const MOST_JOINS = 20;

/** What one person may send in an hour, and keep here. Far more than anybody needs, far less than would fill a disk or a colleague's evening. */
export const LIMITS = {
  student: { uploads: 150, messages: 200, bytes: 2 * GIB },
  /** A folder of scans of a whole class is theirs to send. */
  teacher: { uploads: 2000, messages: 1500, bytes: 20 * GIB },
  administrator: { uploads: 150, messages: 200, bytes: 2 * GIB },
} as const;

/** Counts one more upload of this person, or refuses it: too many in an hour, or as much kept as one may keep. */
export async function countUpload(house: House, person: Person): Promise<void> {
  const { uploads, bytes } = LIMITS[person.role];
  const kept = await keptBytes(house.db.manager, person.id);
  if (kept >= bytes) throw new Fault('keeps-too-much', { gigabytes: bytes / GIB });
  await countOne(house, `uploads:${person.id}`, uploads, 'uploads');
}

/** The same of a message. */
export const countMessage = (house: House, person: Person): Promise<void> =>
  countOne(house, `messages:${person.id}`, LIMITS[person.role].messages, 'messages');

/** The same of asking to be let into a class: codes are not to be guessed. */
export const countJoin = (house: House, person: Person): Promise<void> =>
  countOne(house, `joins:${person.id}`, MOST_JOINS, 'joins');

async function countOne(house: House, name: string, most: number, what: string): Promise<void> {
  const now = house.now();
  const left = await inTransaction(house.db, async (tx) => {
    // Written to itself where it is there: so its lock is the one that is wanted from the beginning, and many at once wait instead of giving way to each other.
    await insertOrUpdate(tx, AttemptTable, { name, hits: 0, resetAt: now + HOUR_MS, lastAt: null }, ['name']);
    const row = (await lock(tx, AttemptTable, { name }))!;
    const [hits, resetAt] = row.resetAt <= now ? [0, now + HOUR_MS] : [row.hits, row.resetAt];
    if (hits >= most) return resetAt - now;
    await update(tx, AttemptTable, { name }, { hits: hits + 1, resetAt, lastAt: now });
    return null;
  });
  if (left !== null) throw new Fault('too-much-at-once', { what, most, minutes: Math.ceil(left / 60_000) });
}

/** Bytes of all files that lie on somebody's copies, and of those that are their own. */
export async function keptBytes(db: Db, personId: PersonId): Promise<number> {
  const files = () =>
    db.createQueryBuilder(DocumentTable, 'd').innerJoin(BlobTable.table, 'b', 'b.sha256 = d.originalSha256');
  const sum = { bytes: col('COALESCE(SUM(b.bytes), 0)', as.count) };
  const own = await pickOne(files().where('d.ownerId = :personId', { personId }), sum);
  const laid = await pickOne(
    files().innerJoin(CopyMemberTable.table, 'cm', 'cm.copyId = d.copyId AND cm.personId = :personId', {
      personId,
    }),
    sum,
  );
  return own!.bytes + laid!.bytes;
}

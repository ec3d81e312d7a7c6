import type { Digest, FamilyLog } from '@jotmark/core';
import {
  ClassTable,
  CopyMemberTable,
  VoiceHandedBackTable,
  type VoiceRow,
  VoiceTable,
} from '../database/entities/index.ts';
import { exists } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { logFor } from '../log/log.ts';
import { behindAddress } from './address.ts';

/** What the family reads: what went back and what was said to the student; nothing that is held. A class that is archived opens nothing any more. */
export async function familyLog(house: House, token: string): Promise<FamilyLog> {
  const db = house.db.manager;
  const { classId, personId } = await behindAddress(db, token, 'family-log');
  if ((await find(db, ClassTable, { id: classId }))?.archivedAt !== null) throw new Fault('not-found');
  return { school: house.settings.school.name, log: await logFor(db, classId, personId) };
}

/** A recording of that log: only what was handed back to this very student. */
export async function familyVoice(house: House, token: string, file: Digest): Promise<VoiceRow> {
  const db = house.db.manager;
  const { personId } = await behindAddress(db, token, 'family-log');
  const theirs = await exists(
    db
      .createQueryBuilder(VoiceHandedBackTable, 'v')
      .innerJoin('v.handBack', 'b')
      .innerJoin(CopyMemberTable.table, 'cm', 'cm.copyId = b.copyId AND cm.personId = :personId', {
        personId,
      })
      .where('v.sha256 = :file', { file }),
  );
  const row = theirs && (await find(db, VoiceTable, { sha256: file }));
  if (!row) throw new Fault('not-found');
  return row;
}

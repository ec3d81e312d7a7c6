import { type CopyId, filesIn, type PersonId } from '@jotmark/core';
import { In } from 'typeorm';
import { DocumentTable, HelpFileTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { insertNew } from '../database/write.ts';

/**
 * The files that these words speak of are seen by the students of the copy from now on. Only files of who gives them: nobody shows what is not theirs by
 * naming it.
 */
export async function giveHelpFiles(
  tx: Db,
  copyId: CopyId,
  by: readonly PersonId[],
  texts: readonly string[],
): Promise<void> {
  const named = filesIn(texts);
  if (named.length === 0) return;
  const own = await tx.getRepository(DocumentTable).findBy({ id: In(named), ownerId: In([...by]) });
  if (own.length)
    await insertNew(
      tx,
      HelpFileTable,
      own.map(({ id }) => ({ documentId: id, copyId })),
    );
}

import { type DocumentId, type FilledIn, Flow, type HandInId, OwnNote, readQuestions } from '@jotmark/core';
import * as z from 'zod';
import { HandInDocumentTable, WorksheetVersionTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';

/** The worksheets that were filled in for a hand-in, with their questions. */
export async function filledIn(db: Db, handInId: HandInId): Promise<FilledIn[]> {
  const rows = await pick(
    db
      .createQueryBuilder(HandInDocumentTable, 'h')
      .innerJoin('h.document', 'd')
      .innerJoin(WorksheetVersionTable.table, 'v', 'v.id = d.versionId')
      .where('h.handInId = :handInId', { handInId })
      .orderBy('h.position'),
    {
      document: col('d.id', as.id<DocumentId>()),
      from: col('v.documentId', as.id<DocumentId>()),
      questions: col('v.questions', as.json(readQuestions)),
      notes: col('d.ownNotes', as.maybe(as.json((raw) => z.array(OwnNote).safeParse(raw)))),
      flows: col('d.flows', as.maybe(as.json((raw) => z.array(Flow).safeParse(raw)))),
    },
  );
  return rows.map((row) => ({ ...row, flows: row.flows ?? [], notes: row.notes ?? [] }));
}

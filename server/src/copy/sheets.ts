import { type CopyId, type CopySheet, readQuestions, type VersionId } from '@jotmark/core';
import { CopySheetTable, WorksheetVersionTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { documentsWithState, STATE, stateOf } from '../document/state.ts';

/** The worksheets of a copy, in the version that was handed out. */
export async function sheetsOf(db: Db, copyId: CopyId): Promise<CopySheet[]> {
  const rows = await pick(
    documentsWithState(db)
      .innerJoin(WorksheetVersionTable.table, 'v', 'v.documentId = d.id')
      .innerJoin('v.worksheet', 'k')
      .innerJoin(CopySheetTable.table, 's', 's.versionId = v.id')
      .where('s.copyId = :copyId', { copyId })
      .orderBy('s.position'),
    {
      ...STATE,
      versionId: col('v.id', as.id<VersionId>()),
      worksheetName: col('k.name', as.text),
      questions: col('v.questions', as.json(readQuestions)),
    },
  );
  return rows.map((r) => ({
    versionId: r.versionId,
    name: r.worksheetName,
    document: stateOf(r),
    questions: r.questions,
  }));
}

import { type DocumentId, type DocumentState, NoPages, Shows } from '@jotmark/core';
import { BlobTable, DocumentTable, HandInDocumentTable, JobTable } from '../database/entities/index.ts';
import { as, col, type Db, pick, type RowOfPicks } from '../database/pick.ts';
import { PROGRESS, progressOf } from '../jobs/progress.ts';
import { blindFileName } from '../people/students.ts';

/** What a state is made from, of a select that `withState` was joined to. */
export const STATE = {
  id: col('d.id', as.id<DocumentId>()),
  name: col('d.name', as.text),
  pages: col('d.pages', as.int),
  type: col('d.type', as.text),
  shows: col('d.shows', as.oneOf(Shows.options)),
  trouble: col('d.trouble', as.maybe(as.oneOf(NoPages.options))),
  url: col('d.url', as.maybe(as.text)),
  bytes: col('o.bytes', as.maybe(as.int)),
  ...PROGRESS,
} as const;

const NOTHING_TO_READ = { state: 'done', done: 0, total: 0, error: null, ahead: null } as const;

export const stateOf = (row: RowOfPicks<typeof STATE>): DocumentState => ({
  id: row.id,
  name: row.name,
  type: row.type,
  shows: row.shows,
  trouble: row.trouble,
  url: row.url,
  bytes: row.bytes ?? 0,
  pages: row.pages,
  reading: row.shows === 'pages' ? progressOf(row) : NOTHING_TO_READ,
});

/** Documents `d` with their original's bytes and how far their reading is. */
export function documentsWithState(db: Db) {
  return db
    .createQueryBuilder(DocumentTable, 'd')
    .leftJoin(BlobTable.table, 'o', 'o.sha256 = d.originalSha256')
    .leftJoin(JobTable.table, 'j', `j.kind = 'read-document' AND j.subject = d.id`);
}

export async function documentState(db: Db, id: DocumentId): Promise<DocumentState> {
  return (await documentStates(db, [id]))[0]!;
}

/** States in the order of the ids. */
export async function documentStates(db: Db, ids: readonly DocumentId[]): Promise<DocumentState[]> {
  if (ids.length === 0) return [];
  const rows = await pick(documentsWithState(db).where('d.id IN (:...ids)', { ids }), STATE);
  const byId = new Map(rows.map((r) => [r.id, stateOf(r)]));
  return ids.flatMap((id) => byId.get(id) ?? []);
}

/** The documents of a hand-in, in their order. */
export async function documentsOf(db: Db, handInId: string): Promise<DocumentState[]> {
  const rows = await pick(
    documentsWithState(db)
      .innerJoin(HandInDocumentTable.table, 'h', 'h.documentId = d.id')
      .where('h.handInId = :handInId', { handInId })
      .orderBy('h.position'),
    STATE,
  );
  return rows.map(stateOf);
}

/** Names of files tell whose they are, and addresses of links too. */
export function blindNames(blind: boolean, documents: DocumentState[]): DocumentState[] {
  return blind ? documents.map(blindState) : documents;
}

/** A document of a blind copy before a teacher, at its place among the others. */
export const blindState = (d: DocumentState, index: number): DocumentState => ({
  ...d,
  name: blindFileName(d.name, index, d.shows === 'link'),
  url: null,
});

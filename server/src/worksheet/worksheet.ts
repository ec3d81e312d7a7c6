import {
  type DocumentId,
  type MaterialId,
  type Person,
  type Question,
  type Questions,
  readQuestions,
  sumOfPoints,
  type VersionId,
  type WorksheetId,
  type WorksheetLine,
  type WorksheetShape,
} from '@jotmark/core';
import {
  CopySheetTable,
  DocumentTable,
  MaterialTable,
  WorksheetTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, update } from '../database/write.ts';
import { makeDocument, type Part } from '../document/document.ts';
import { documentState } from '../document/state.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';

const isNewest = (alias: string) =>
  `${alias}.number = (SELECT MAX(nv.number) FROM worksheet_version nv WHERE nv.worksheet_id = ${alias}.worksheetId)`;

/** A teacher's worksheets, the newest first. */
export async function worksheetsOf(house: House, person: Person): Promise<WorksheetLine[]> {
  const rows = await pick(
    house.db.manager
      .createQueryBuilder(WorksheetTable, 'w')
      .innerJoin(WorksheetVersionTable.table, 'v', `v.worksheetId = w.id AND ${isNewest('v')}`)
      .innerJoin('v.document', 'd')
      .where('w.ownerId = :me', { me: person.id })
      .orderBy('w.createdAt', 'DESC')
      .addOrderBy('w.id', 'DESC')
      .limit(500),
    {
      id: col('w.id', as.id<WorksheetId>()),
      name: col('w.name', as.text),
      createdAt: col('w.createdAt', as.moment),
      version: col('v.number', as.int),
      pages: col('d.pages', as.int),
      questions: col('v.questions', as.json(readQuestions)),
    },
  );
  return rows.map(({ questions, ...line }) => ({
    ...line,
    questions: questions.length,
    points: sumOfPoints(questions),
  }));
}

/** Makes a worksheet of judged files that can become pages. Gives it and its document. */
export async function makeWorksheet(
  house: House,
  tx: Db,
  person: Person['id'],
  parts: readonly [Part, ...Part[]],
  questions: readonly Question[] = [],
): Promise<{ id: WorksheetId; documentId: DocumentId }> {
  for (const { judged, name } of parts)
    if (judged.shows !== 'pages') throw new Fault('file-not-pages', { name });
  const [first] = parts;
  const name = first.name.replace(/\.[a-z0-9]{1,5}$/i, '') || 'Worksheet';
  const documentId = await makeDocument(house, tx, { ownerId: person }, first.name, parts, person);
  const id = newId<WorksheetId>(house);
  const createdAt = house.now();
  await insert(tx, WorksheetTable, {
    id,
    ownerId: person,
    name: name.slice(0, 200),
    createdAt,
    answerKeys: null,
  });
  await insert(tx, WorksheetVersionTable, {
    id: newId<VersionId>(house),
    worksheetId: id,
    number: 1,
    documentId,
    questions: [...questions],
    revision: 1,
    createdAt,
  });
  return { id, documentId };
}

/** How many copies of each version are out. */
async function copiesOut(db: Db, worksheetId: WorksheetId): Promise<Map<VersionId, number>> {
  const rows = await pick(
    db
      .createQueryBuilder(CopySheetTable, 's')
      .innerJoin('s.version', 'v')
      .where('v.worksheetId = :worksheetId', { worksheetId })
      .groupBy('s.versionId'),
    { id: col('s.versionId', as.id<VersionId>()), copies: col('COUNT(*)', as.int) },
  );
  return new Map(rows.map((r) => [r.id, r.copies]));
}

/** All versions, the newest first. */
const versionsOf = (db: Db, worksheetId: WorksheetId) =>
  db.getRepository(WorksheetVersionTable).find({ where: { worksheetId }, order: { number: 'DESC' } });

/** The newest version of a worksheet, to be looked at and edited. */
export async function readWorksheet(
  house: House,
  person: Pick<Person, 'id'>,
  worksheetId: WorksheetId,
): Promise<WorksheetShape> {
  const db = house.db.manager;
  const worksheet = await find(db, WorksheetTable, { id: worksheetId });
  const versions = await versionsOf(db, worksheetId);
  const [v] = versions;
  if (!worksheet || !v) throw new Fault('not-found');
  const out = await copiesOut(db, worksheetId);
  return {
    id: worksheetId,
    name: worksheet.name,
    mine: worksheet.ownerId === person.id,
    versionId: v.id,
    number: v.number,
    revision: v.revision,
    handedOut: out.has(v.id),
    document: await documentState(db, v.documentId),
    questions: v.questions,
    keys: worksheet.answerKeys ?? {},
    versions: versions.map(({ id, number, createdAt }) => ({ number, createdAt, copies: out.get(id) ?? 0 })),
  };
}

/**
 * Keeps the questions of the newest version. Where copies of it are out they keep theirs: the questions become a new version on the
 * same pages, which drafts and assignments take over when they are told to. An edit made on an older state is refused.
 */
export async function saveQuestions(
  house: House,
  worksheetId: WorksheetId,
  edit: { versionId: VersionId; revision: number; questions: Questions },
): Promise<{ versionId: VersionId; number: number; revision: number }> {
  return inTransaction(house.db, async (tx) => {
    await lock(tx, WorksheetTable, { id: worksheetId });
    const [v] = await versionsOf(tx, worksheetId);
    if (!v) throw new Fault('not-found');
    const document = await find(tx, DocumentTable, { id: v.documentId });
    if (v.id !== edit.versionId || v.revision !== edit.revision) throw new Fault('changed-elsewhere');
    if (edit.questions.some((q) => q.page >= (document?.pages ?? 0)))
      throw new Fault('bad-input', { what: 'page' });
    if (!(await copiesOut(tx, worksheetId)).has(v.id)) {
      const revision = v.revision + 1;
      await update(tx, WorksheetVersionTable, { id: v.id }, { questions: edit.questions, revision });
      return { versionId: v.id, number: v.number, revision };
    }
    const id = newId<VersionId>(house);
    await insert(tx, WorksheetVersionTable, {
      id,
      worksheetId,
      number: v.number + 1,
      documentId: v.documentId,
      questions: edit.questions,
      revision: 1,
      createdAt: house.now(),
    });
    await takenOver(tx, v.id, id);
    return { versionId: id, number: v.number + 1, revision: 1 };
  });
}

/** Drafts that nobody has seen go with a new version. */
async function takenOver(tx: Db, from: VersionId, to: VersionId): Promise<void> {
  const drafts = await pick(
    tx
      .createQueryBuilder(MaterialTable, 'x')
      .innerJoin('x.assignment', 'a', 'a.opensAt IS NULL')
      .where('x.versionId = :from', { from }),
    { id: col('x.id', as.id<MaterialId>()) },
  );
  for (const { id } of drafts) await update(tx, MaterialTable, { id }, { versionId: to });
}

export async function renameWorksheet(house: House, id: WorksheetId, name: string): Promise<void> {
  await update(house.db.manager, WorksheetTable, { id }, { name });
}

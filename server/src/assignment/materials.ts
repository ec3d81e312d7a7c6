import {
  type AssignmentId,
  type DocumentId,
  type Material,
  type MaterialId,
  type PersonId,
  readQuestions,
  sumOfPoints,
  type VersionId,
  type WorksheetId,
} from '@jotmark/core';
import {
  AssignmentTable,
  MaterialKind,
  MaterialTable,
  WorksheetTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick, pickOne } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, remove, update } from '../database/write.ts';
import { keepLink } from '../document/document.ts';
import { documentsWithState, STATE, stateOf } from '../document/state.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';

const MOST_MATERIALS = 50;

/** What comes with an assignment, in its order. Pictures of the instructions are not among it. */
export async function materialsOf(house: House, assignmentId: AssignmentId): Promise<Material[]> {
  const rows = await pick(
    documentsWithState(house.db.manager)
      .innerJoin(MaterialTable.table, 'x', `x.assignmentId = :assignmentId AND x.kind <> 'picture'`, {
        assignmentId,
      })
      .leftJoin('x.version', 'v')
      .where('d.id = COALESCE(x.documentId, v.documentId)')
      .orderBy('x.position'),
    {
      ...STATE,
      materialId: col('x.id', as.id<MaterialId>()),
      kind: col('x.kind', as.oneOf(MaterialKind.options)),
      materialName: col('x.name', as.text),
      versionId: col('x.versionId', as.maybe(as.id<VersionId>())),
      worksheetId: col('v.worksheetId', as.maybe(as.id<WorksheetId>())),
      questions: col('v.questions', as.maybe(as.json(readQuestions))),
    },
  );
  return rows.map(
    (r): Material => ({
      id: r.materialId,
      kind: r.kind as Material['kind'],
      name: r.materialName,
      url: r.url,
      document: stateOf(r),
      worksheetId: r.worksheetId,
      versionId: r.versionId,
      points: r.questions ? sumOfPoints(r.questions) : null,
    }),
  );
}

type What = { documentId: DocumentId } | { versionId: VersionId };

export async function addMaterial(
  house: House,
  tx: Db,
  assignmentId: AssignmentId,
  kind: MaterialKind,
  name: string,
  what: What,
): Promise<void> {
  await lock(tx, AssignmentTable, { id: assignmentId });
  const last = await pickOne(
    tx.createQueryBuilder(MaterialTable, 'x').where('x.assignmentId = :assignmentId', { assignmentId }),
    { count: col('COUNT(*)', as.int), position: col('COALESCE(MAX(x.position), -1)', as.int) },
  );
  if (last!.count >= MOST_MATERIALS) throw new Fault('too-many-files', { most: MOST_MATERIALS });
  await insert(tx, MaterialTable, {
    id: newId<MaterialId>(house),
    assignmentId,
    position: last!.position + 1,
    kind,
    name: name.slice(0, 300),
    documentId: 'documentId' in what ? what.documentId : null,
    versionId: 'versionId' in what ? what.versionId : null,
  });
}

/** Adds an address to look at, in its own name or that of its site. */
export async function addLinkMaterial(
  house: House,
  ownerId: PersonId,
  assignmentId: AssignmentId,
  url: string,
  name: string,
): Promise<void> {
  const document = await keepLink(house, { ownerId }, url, name);
  await inTransaction(house.db, (tx) =>
    addMaterial(house, tx, assignmentId, 'link', document.name, { documentId: document.id }),
  );
}

/**
 * Adds a worksheet in its newest version, or brings one that is there already up to it. Copies that are out keep theirs; students who
 * join later get the new one.
 */
export async function addWorksheet(
  house: House,
  assignmentId: AssignmentId,
  worksheetId: WorksheetId,
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, AssignmentTable, { id: assignmentId });
    const worksheet = await find(tx, WorksheetTable, { id: worksheetId });
    const [newest] = await tx
      .getRepository(WorksheetVersionTable)
      .find({ where: { worksheetId }, order: { number: 'DESC' }, take: 1 });
    if (!worksheet || !newest) throw new Fault('not-found');
    const there = await pickOne(
      tx
        .createQueryBuilder(MaterialTable, 'x')
        .innerJoin('x.version', 'v')
        .where('x.assignmentId = :assignmentId AND v.worksheetId = :worksheetId', {
          assignmentId,
          worksheetId,
        }),
      { id: col('x.id', as.id<MaterialId>()) },
    );
    if (there) await update(tx, MaterialTable, { id: there.id }, { versionId: newest.id });
    else await addMaterial(house, tx, assignmentId, 'worksheet', worksheet.name, { versionId: newest.id });
  });
}

export async function removeMaterial(
  house: House,
  assignmentId: AssignmentId,
  id: MaterialId,
): Promise<void> {
  await remove(house.db.manager, MaterialTable, { id, assignmentId });
}

/** Those not named keep their place behind the others. */
export async function orderMaterials(
  house: House,
  assignmentId: AssignmentId,
  order: readonly MaterialId[],
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, AssignmentTable, { id: assignmentId });
    const there = await tx
      .getRepository(MaterialTable)
      .find({ where: { assignmentId }, order: { position: 'ASC' } });
    const named = order.filter((id) => there.some((m) => m.id === id));
    const others = there.filter((m) => !named.includes(m.id)).map((m) => m.id);
    for (const [position, id] of [...named, ...others].entries())
      await update(tx, MaterialTable, { id, assignmentId }, { position });
  });
}

export async function copyMaterials(
  house: House,
  tx: Db,
  from: AssignmentId,
  to: AssignmentId,
): Promise<void> {
  const rows = await tx.getRepository(MaterialTable).find({ where: { assignmentId: from } });
  if (rows.length)
    await insert(
      tx,
      MaterialTable,
      rows.map((r) => ({ ...r, id: newId<MaterialId>(house), assignmentId: to })),
    );
}

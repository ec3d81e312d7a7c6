import { type DocumentId, type FamilyPage, picturesIn } from '@jotmark/core';
import {
  type AssignmentRow,
  AssignmentTable,
  ClassTable,
  DocumentTable,
  MaterialTable,
} from '../database/entities/index.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { hungRubric } from '../rubric/hung.ts';
import { materialsOf } from './materials.ts';

async function behind(house: House, familyToken: string): Promise<AssignmentRow> {
  const a = await find(house.db.manager, AssignmentTable, { familyToken });
  if (!a || a.opensAt === null || a.opensAt > house.now() || a.putAwayAt !== null)
    throw new Fault('not-found');
  if ((await find(house.db.manager, ClassTable, { id: a.classId }))?.archivedAt !== null)
    throw new Fault('not-found');
  return a;
}

/** What families see: instructions, date and what there is to look at. No names, no copies, no worksheets to fill in. */
export async function familyPage(house: House, token: string): Promise<FamilyPage> {
  const { id, title, category, unit, instructions, dueAt, scoring, rubricVersionId } = await behind(
    house,
    token,
  );
  const rubric = scoring?.familySeesRubric ? await hungRubric(house.db.manager, rubricVersionId) : null;
  return {
    school: house.settings.school.name,
    title,
    category,
    unit,
    instructions,
    dueAt,
    materials: (await materialsOf(house, id)).filter((m) => m.kind !== 'worksheet'),
    rubric: rubric && { name: rubric.name, rubric: rubric.rubric },
  };
}

/** A file or picture of that page. */
export async function familyFile(
  house: House,
  token: string,
  documentId: DocumentId,
): Promise<{ sha256: string; type: string; name: string }> {
  const db = house.db.manager;
  const a = await behind(house, token);
  const material = await find(db, MaterialTable, { assignmentId: a.id, documentId });
  const document = material && (await find(db, DocumentTable, { id: documentId }));
  if (!document?.originalSha256) throw new Fault('not-found');
  if (material!.kind === 'picture' && !picturesIn(a.instructions).includes(documentId))
    throw new Fault('not-found');
  return { sha256: document.originalSha256, type: document.type, name: document.name };
}

import { type FamilyPage, picturesIn, RichText } from '@jotmark/core';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { materialsOf } from './materials.ts';

async function behind(house: House, token: string): Promise<RawRow> {
  const [a] = await house.db.query(
    'SELECT id, title, category, unit, instructions, due_at FROM assignment WHERE family_token = ? AND opens_at <= ?',
    [token, new Date(house.now())],
  );
  if (!a) throw new Fault('not-found');
  return a;
}

/** What families see: instructions, date and what there is to look at. No names, no copies, no worksheets to fill in. */
export async function familyPage(house: House, token: string): Promise<FamilyPage> {
  const a = await behind(house, token);
  return {
    school: house.settings.school.name,
    title: a.title,
    category: a.category,
    unit: a.unit,
    instructions: RichText.parse(JSON.parse(a.instructions)),
    dueAt: a.due_at?.getTime() ?? null,
    materials: (await materialsOf(house, a.id)).filter((m) => m.kind !== 'worksheet'),
  };
}

/** A file or picture of that page. */
export async function familyFile(
  house: House,
  token: string,
  documentId: string,
): Promise<{ sha256: string; type: string; name: string }> {
  const a = await behind(house, token);
  const pictures: readonly string[] = picturesIn(RichText.parse(JSON.parse(a.instructions)));
  const [file] = await house.db.query(
    `SELECT x.kind, d.original_sha256 AS sha256, d.type, d.name FROM material x JOIN document d ON d.id = x.document_id
     WHERE x.assignment_id = ? AND d.id = ? AND d.original_sha256 IS NOT NULL`,
    [a.id, documentId],
  );
  if (!file || (file.kind === 'picture' && !pictures.includes(documentId))) throw new Fault('not-found');
  return file;
}

import type { BesideDesk, CopyId } from '@jotmark/core';
import { materialsOf } from '../assignment/materials.ts';
import { HandInTable } from '../database/entities/index.ts';
import { blindNames, documentsOf } from '../document/state.ts';
import { newestBack } from '../hand-back/hand-back.ts';
import { changedAnswers } from '../hand-in/answers.ts';
import type { House } from '../house.ts';
import { whose } from '../people/students.ts';

/** What can lie beside the newest hand-in of a copy. */
export async function besideDesk(house: House, copyId: CopyId): Promise<BesideDesk> {
  const db = house.db.manager;
  const students = await whose(db, copyId);
  const handIns = await db.getRepository(HandInTable).find({ where: { copyId }, order: { number: 'DESC' } });
  if (!students || handIns.length === 0) return { earlier: [], materials: [] };
  const earlier: BesideDesk['earlier'] = [];
  for (const { id, number, handedInAt } of handIns.slice(1)) {
    const back = await newestBack(db, copyId, id);
    earlier.push({
      number,
      handedInAt,
      documents: blindNames(students.blind, await documentsOf(db, id)),
      marks: back?.content.marks ?? [],
      handBackId: back?.id ?? null,
      grade: back?.content.grade ?? null,
      changed: await changedAnswers(db, id, handIns.find((h) => h.number === number + 1)!.id),
    });
  }
  const materials = (await materialsOf(house, students.assignmentId)).flatMap(({ kind, document }) =>
    document?.shows === 'pages' ? [{ worksheet: kind === 'worksheet', document }] : [],
  );
  return { earlier, materials };
}

import type { HungRubric, RubricVersionId } from '@jotmark/core';
import { RubricTable, RubricVersionTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find } from '../database/write.ts';

/** A rubric as it hangs on an assignment; null: none does. */
export async function hungRubric(db: Db, versionId: RubricVersionId | null): Promise<HungRubric | null> {
  const version = versionId && (await find(db, RubricVersionTable, { id: versionId }));
  if (!version) return null;
  const rubric = (await find(db, RubricTable, { id: version.rubricId }))!;
  const [newest] = await db.getRepository(RubricVersionTable).find({
    select: { id: true, number: true },
    where: { rubricId: rubric.id },
    order: { number: 'DESC' },
    take: 1,
  });
  return {
    id: rubric.id,
    versionId: version.id,
    name: rubric.name,
    number: version.number,
    newest: newest?.id ?? version.id,
    rubric: version.content,
  };
}

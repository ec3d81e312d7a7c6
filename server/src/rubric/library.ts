import {
  type AssignmentId,
  mostOfRubric,
  type Person,
  type Rubric,
  type RubricId,
  type RubricLine,
  type RubricShape,
  type RubricVersionId,
  readRubric,
} from '@jotmark/core';
import {
  AssignmentTable,
  RubricTable,
  type RubricVersionRow,
  RubricVersionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';

/** So many rubrics no teacher has. */
const MOST_RUBRICS = 500;

/** A teacher's rubrics, the newest first; archived ones too. */
export async function rubricsOf(house: House, person: Person): Promise<RubricLine[]> {
  const rows = await pick(
    house.db.manager
      .createQueryBuilder(RubricTable, 'r')
      .innerJoin(
        RubricVersionTable.table,
        'v',
        'v.rubricId = r.id AND v.number = (SELECT MAX(n.number) FROM rubric_version n WHERE n.rubric_id = r.id)',
      )
      .where('r.ownerId = :me', { me: person.id })
      .orderBy('r.createdAt', 'DESC')
      .addOrderBy('r.id', 'DESC')
      .limit(MOST_RUBRICS),
    {
      id: col('r.id', as.id<RubricId>()),
      name: col('r.name', as.text),
      versionId: col('v.id', as.id<RubricVersionId>()),
      number: col('v.number', as.int),
      content: col('v.content', as.json(readRubric)),
      createdAt: col('r.createdAt', as.moment),
      usedIn: col(
        '(SELECT COUNT(*) FROM assignment a JOIN rubric_version u ON u.id = a.rubric_version_id WHERE u.rubric_id = r.id)',
        as.int,
      ),
      putAway: col('r.putAwayAt IS NOT NULL', as.flag),
    },
  );
  return rows.map(({ content, ...line }) => ({
    ...line,
    criteria: content.criteria.length,
    most: mostOfRubric(content),
  }));
}

export async function makeRubric(
  house: House,
  person: Pick<Person, 'id'>,
  name: string,
  rubric: Rubric,
): Promise<RubricId> {
  return inTransaction(house.db, async (tx) => {
    if ((await tx.getRepository(RubricTable).countBy({ ownerId: person.id })) >= MOST_RUBRICS)
      throw new Fault('too-many-rubrics', { most: MOST_RUBRICS });
    const id = newId<RubricId>(house);
    const createdAt = house.now();
    await insert(tx, RubricTable, { id, ownerId: person.id, name, createdAt, putAwayAt: null });
    await insert(tx, RubricVersionTable, {
      id: newId<RubricVersionId>(house),
      rubricId: id,
      number: 1,
      content: rubric,
      createdAt,
    });
    return id;
  });
}

const versionsOf = (db: Db, rubricId: RubricId): Promise<RubricVersionRow[]> =>
  db.getRepository(RubricVersionTable).find({ where: { rubricId }, order: { number: 'DESC' } });

/** Where a rubric hangs, in any version. */
const usesOf = (db: Db, rubricId: RubricId) =>
  pick(
    db
      .createQueryBuilder(AssignmentTable, 'a')
      .innerJoin('a.rubricVersion', 'v')
      .innerJoin('a.class', 'k')
      .where('v.rubricId = :rubricId', { rubricId })
      .orderBy('a.createdAt', 'DESC')
      .limit(200),
    {
      id: col('a.id', as.id<AssignmentId>()),
      title: col('a.title', as.text),
      className: col('k.name', as.text),
      versionId: col('v.id', as.id<RubricVersionId>()),
      open: col('a.opensAt IS NOT NULL', as.flag),
    },
  );

/** The newest version of a rubric. */
export async function readRubricOf(
  house: House,
  person: Pick<Person, 'id'>,
  id: RubricId,
): Promise<RubricShape> {
  const db = house.db.manager;
  const rubric = await find(db, RubricTable, { id });
  const versions = await versionsOf(db, id);
  const [newest] = versions;
  if (!rubric || !newest) throw new Fault('not-found');
  const uses = await usesOf(db, id);
  return {
    id,
    name: rubric.name,
    mine: rubric.ownerId === person.id,
    versionId: newest.id,
    number: newest.number,
    rubric: newest.content,
    handedOut: uses.some((u) => u.open && u.versionId === newest.id),
    usedIn: uses.map(({ open: _, ...use }) => use),
    versions: versions.map((v) => ({ id: v.id, number: v.number, createdAt: v.createdAt })),
  };
}

/**
 * Keeps a rubric as it was changed. Where its newest version hangs on work that students see, the change becomes a new version: what was scored, and what
 * students read, keeps its own until the assignment takes the new one over. A change made on an older version is refused.
 */
export async function saveRubric(
  house: House,
  id: RubricId,
  edit: { readonly name: string; readonly versionId: RubricVersionId; readonly rubric: Rubric },
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    if (!(await lock(tx, RubricTable, { id }))) throw new Fault('not-found');
    const [newest] = await versionsOf(tx, id);
    if (newest?.id !== edit.versionId) throw new Fault('changed-elsewhere');
    await update(tx, RubricTable, { id }, { name: edit.name });
    if (JSON.stringify(newest.content) === JSON.stringify(edit.rubric)) return;
    const open = (await usesOf(tx, id)).some((u) => u.open && u.versionId === newest.id);
    const content = edit.rubric;
    if (!open) return void (await update(tx, RubricVersionTable, { id: newest.id }, { content }));
    await insert(tx, RubricVersionTable, {
      id: newId<RubricVersionId>(house),
      rubricId: id,
      number: newest.number + 1,
      content,
      createdAt: house.now(),
    });
  });
}

export async function archiveRubric(house: House, id: RubricId, away: boolean): Promise<void> {
  await update(house.db.manager, RubricTable, { id }, { putAwayAt: away ? house.now() : null });
}

import {
  type ClassId,
  fullName,
  type LogRemark,
  type Person,
  type PersonId,
  type RemarkAnswerId,
  type RemarkId,
} from '@jotmark/core';
import { In } from 'typeorm';
import {
  MembershipTable,
  RemarkAnswerTable,
  RemarkStudentTable,
  RemarkTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, insertNew, lock, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { tell } from '../news/tell.ts';

/** So many answers a remark can have from one student and their teachers. */
const MOST_ANSWERS = 100;

/** What was said to this student in a class without any copy, as this reader sees it. */
export async function remarksTo(
  db: Db,
  classId: ClassId,
  personId: PersonId,
  reader: PersonId,
): Promise<LogRemark[]> {
  const rows = await pick(
    db
      .createQueryBuilder(RemarkTable, 'r')
      .innerJoin(RemarkStudentTable.table, 's', 's.remarkId = r.id AND s.personId = :personId', { personId })
      .innerJoin('r.by', 'p')
      .where('r.classId = :classId', { classId })
      .orderBy('r.at'),
    {
      id: col('r.id', as.id<RemarkId>()),
      at: col('r.at', as.moment),
      byId: col('r.byId', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      words: col('r.words', as.text),
      work: col('r.work', as.text),
      strand: col('r.strand', as.text),
    },
  );
  if (rows.length === 0) return [];
  const answers = await pick(
    db
      .createQueryBuilder(RemarkAnswerTable, 'w')
      .innerJoin('w.by', 'p')
      .where('w.personId = :personId AND w.remarkId IN (:...ids)', { personId, ids: rows.map((r) => r.id) })
      .orderBy('w.at'),
    {
      id: col('w.id', as.id<RemarkAnswerId>()),
      remarkId: col('w.remarkId', as.id<RemarkId>()),
      byId: col('w.byId', as.id<PersonId>()),
      given: col('p.given', as.text),
      family: col('p.family', as.text),
      at: col('w.at', as.moment),
      words: col('w.words', as.text),
      quote: col('w.quote', as.text),
    },
  );
  return rows.map(
    ({ byId, given, family, ...row }): LogRemark => ({
      of: 'remark',
      ...row,
      by: fullName({ given, family }),
      mine: byId === reader,
      answers: answers
        .filter((a) => a.remarkId === row.id)
        .map((a) => ({
          id: a.id,
          by: fullName(a),
          mine: a.byId === reader,
          at: a.at,
          words: a.words,
          quote: a.quote,
        })),
    }),
  );
}

interface RemarkBody {
  readonly words: string;
  readonly at: number;
  readonly work: string;
  readonly strand: string;
}

/** A remark to students of a class, who are told of it. The same id sent twice counts once. */
export async function addRemark(
  house: House,
  person: Person,
  classId: ClassId,
  { id, to, ...body }: RemarkBody & { readonly id: RemarkId; readonly to: readonly PersonId[] },
): Promise<void> {
  const people = [...new Set(to)];
  await inTransaction(house.db, async (tx) => {
    const there = await tx
      .getRepository(MembershipTable)
      .find({ where: { classId, role: 'student', personId: In(people) } });
    if (there.length < people.length) throw new Fault('not-found');
    const row = { id, classId, byId: person.id, ...body, madeAt: house.now() };
    if ((await insertNew(tx, RemarkTable, row)) === 0) {
      const was = await find(tx, RemarkTable, { id });
      // An id of somebody else's, or used for other words, is none of this one's.
      if (was?.byId !== person.id || was.words !== body.words) throw new Fault('bad-input');
      return;
    }
    await insert(
      tx,
      RemarkStudentTable,
      people.map((personId) => ({ remarkId: id, personId })),
    );
    await tell(
      house,
      tx,
      people.map((personId) => ({
        to: personId,
        what: {
          kind: 'remark',
          assignmentId: null,
          copyId: null,
          classId,
          byId: person.id,
          words: body.words,
        },
      })),
    );
  });
}

export async function changeRemark(house: House, id: RemarkId, body: RemarkBody): Promise<void> {
  await update(house.db.manager, RemarkTable, { id }, body);
}

/** Withdraws a remark from every log it stands in, with its answers. */
export async function removeRemark(house: House, id: RemarkId): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    await lock(tx, RemarkTable, { id });
    await remove(tx, RemarkAnswerTable, { remarkId: id });
    await remove(tx, RemarkStudentTable, { remarkId: id });
    await remove(tx, RemarkTable, { id });
  });
}

/** An answer in the log of one student. Whose remark it is hears of a student's, the student of a teacher's. */
export async function answerRemark(
  house: House,
  person: Person,
  remarkId: RemarkId,
  body: {
    readonly id: RemarkAnswerId;
    readonly words: string;
    readonly quote: string;
    readonly personId: PersonId;
  },
): Promise<void> {
  await inTransaction(house.db, async (tx) => {
    const remark = await lock(tx, RemarkTable, { id: remarkId });
    const theirs = await find(tx, RemarkStudentTable, { remarkId, personId: body.personId });
    if (!remark || !theirs || (person.role === 'student' && body.personId !== person.id))
      throw new Fault('not-found');
    // What is quoted stands there: words that somebody else put into a mouth are none.
    if (body.quote && !remark.words.includes(body.quote)) throw new Fault('bad-input');
    const there = await tx
      .getRepository(RemarkAnswerTable)
      .count({ where: { remarkId, personId: body.personId } });
    if (there >= MOST_ANSWERS) throw new Fault('too-many-answers', { most: MOST_ANSWERS });
    const row = { ...body, remarkId, byId: person.id, at: house.now(), seenAt: null };
    if ((await insertNew(tx, RemarkAnswerTable, row)) === 0) {
      const was = await find(tx, RemarkAnswerTable, { id: body.id });
      if (was?.byId !== person.id || was.words !== body.words) throw new Fault('bad-input');
      return;
    }
    const about = {
      assignmentId: null,
      copyId: null,
      classId: remark.classId,
      byId: person.id,
      words: body.words,
    };
    await tell(house, tx, [
      person.role === 'student'
        ? { to: remark.byId, what: { kind: 'remark-answered', ...about } }
        : { to: body.personId, what: { kind: 'remark', ...about } },
    ]);
  });
}

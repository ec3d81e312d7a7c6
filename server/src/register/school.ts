import {
  ACCOUNT_ACTS,
  ACTS_SHOWN,
  type ClassId,
  type Credentials,
  fullName,
  LoggedAct,
  PEOPLE_SHOWN,
  type Person,
  type PersonId,
  Role,
  type SchoolActLine,
  type SchoolPerson,
} from '@jotmark/core';
import {
  ActLogTable,
  ClassTable,
  MembershipTable,
  PersonTable,
  SessionTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { codeOf, inTransaction } from '../database/transaction.ts';
import { find, insert, remove, update } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { type House, newId } from '../house.ts';
import { hashPassword } from '../people/password.ts';
import { NEW_ACCOUNT } from '../people/person.ts';
import { firstPassword } from './passwords.ts';

/** Who is in the school, and where: all, or those whose name or login has these letters. */
export async function schoolPeople(
  house: House,
  { like = '', role }: { readonly like?: string | undefined; readonly role?: Role | undefined },
): Promise<{ people: SchoolPerson[]; more: boolean }> {
  const db = house.db.manager;
  const query = db
    .createQueryBuilder(PersonTable, 'p')
    .where(`CONCAT(p.given, ' ', p.family, ' ', p.login) LIKE :like`, {
      like: `%${like.trim().replace(/[%_\\]/g, '\\$&')}%`,
    })
    // Whose data was erased is nobody any more.
    .andWhere(`NOT (p.passwordHash = '*' AND p.login LIKE 'erased-%')`)
    .orderBy('p.role', 'DESC')
    .addOrderBy('p.family')
    .addOrderBy('p.given')
    .addOrderBy('p.id')
    .limit(PEOPLE_SHOWN + 1);
  if (role) query.andWhere('p.role = :role', { role });
  const rows = await pick(query, {
    id: col('p.id', as.id<PersonId>()),
    role: col('p.role', as.oneOf(Role.options)),
    given: col('p.given', as.text),
    family: col('p.family', as.text),
    login: col('p.login', as.text),
    stepOn: col('p.stepOn', as.flag),
    usedAt: col('(SELECT MAX(s.used_at) FROM session s WHERE s.person_id = p.id)', as.maybe(as.moment)),
  });
  const shown = rows.slice(0, PEOPLE_SHOWN);
  const classes = await classesOfPeople(
    db,
    shown.map((r) => r.id),
  );
  return {
    people: shown.map((r) => ({ ...r, classes: classes.get(r.id) ?? [] })),
    more: rows.length > shown.length,
  };
}

async function classesOfPeople(
  db: Db,
  people: readonly PersonId[],
): Promise<Map<PersonId, SchoolPerson['classes']>> {
  const out = new Map<PersonId, SchoolPerson['classes']>();
  if (people.length === 0) return out;
  const rows = await pick(
    db
      .createQueryBuilder(MembershipTable, 'm')
      .innerJoin('m.class', 'k')
      .where('m.personId IN (:...people) AND k.archivedAt IS NULL', { people })
      .orderBy('k.name'),
    {
      personId: col('m.personId', as.id<PersonId>()),
      id: col('k.id', as.id<ClassId>()),
      name: col('k.name', as.text),
      role: col('m.role', as.oneOf(Role.options)),
      left: col('m.leftAt IS NOT NULL', as.flag),
    },
  );
  for (const { personId, ...row } of rows) out.set(personId, [...(out.get(personId) ?? []), row]);
  return out;
}

/** A new teacher or administrator, with a first password that is told once. */
export async function addStaff(
  house: House,
  who: { given: string; family: string; login: string; role: 'teacher' | 'administrator' },
): Promise<Credentials> {
  const password = firstPassword();
  const personId = newId<PersonId>(house);
  await insert(house.db.manager, PersonTable, {
    ...NEW_ACCOUNT,
    id: personId,
    ...who,
    passwordHash: await hashPassword(password),
    firstPassword: true,
    createdAt: house.now(),
  }).catch(loginIsTaken(who.login));
  const { given, family, login } = who;
  return { personId, given, family, login, password };
}

/** Corrects anybody's name or login. */
export async function correctPerson(
  house: House,
  id: PersonId,
  to: { given: string; family: string; login: string },
): Promise<void> {
  if (!(await find(house.db.manager, PersonTable, { id }))) throw new Fault('not-found');
  await update(house.db.manager, PersonTable, { id }, to).catch(loginIsTaken(to.login));
}

const loginIsTaken =
  (login: string) =>
  (error: unknown): never => {
    if (codeOf(error) === 'ER_DUP_ENTRY') throw new Fault('login-in-use', { login });
    throw error;
  };

/** A new first password for anybody, whose phone may be lost as well: the second step is off. Wherever they are signed in they are signed out; they are told. */
export async function resetPerson(house: House, by: Person, id: PersonId): Promise<Credentials> {
  const row = await find(house.db.manager, PersonTable, { id });
  if (!row) throw new Fault('not-found');
  const password = firstPassword();
  const passwordHash = await hashPassword(password);
  await inTransaction(house.db, async (tx) => {
    await update(
      tx,
      PersonTable,
      { id },
      {
        passwordHash,
        firstPassword: true,
        resetById: by.id,
        resetAt: house.now(),
        stepOn: false,
        stepSecret: null,
        stepUsed: null,
      },
    );
    await remove(tx, SessionTable, { personId: id });
  });
  const { given, family, login } = row;
  return { personId: id, given, family, login, password };
}

/** Who changed accounts, and whose, over all classes, the newest first. */
export async function schoolActs(house: House): Promise<SchoolActLine[]> {
  const rows = await pick(
    house.db.manager
      .createQueryBuilder(ActLogTable, 'l')
      .leftJoin(PersonTable.table, 'p', 'p.id = l.byId')
      .leftJoin(PersonTable.table, 's', 's.id = l.personId')
      .leftJoin(ClassTable.table, 'k', 'k.id = l.classId')
      .where('l.act IN (:...acts)', { acts: [...ACCOUNT_ACTS] })
      .orderBy('l.seq', 'DESC')
      .limit(ACTS_SHOWN),
    {
      at: col('l.at', as.moment),
      act: col('l.act', as.oneOf(LoggedAct.options)),
      given: col(`COALESCE(p.given, '')`, as.text),
      family: col(`COALESCE(p.family, '')`, as.text),
      aboutGiven: col(`COALESCE(s.given, '')`, as.text),
      aboutFamily: col(`COALESCE(s.family, '')`, as.text),
      className: col(`COALESCE(k.name, '')`, as.text),
    },
  );
  return rows.map(({ at, act, className, given, family, aboutGiven, aboutFamily }) => ({
    at,
    act,
    className,
    title: '',
    by: fullName({ given, family }),
    about: fullName({ given: aboutGiven, family: aboutFamily }),
  }));
}

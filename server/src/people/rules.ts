import type {
  AssignmentId,
  ClassId,
  ConsentId,
  CopyId,
  DocumentId,
  HandBackId,
  HandBackOrderId,
  HandInId,
  JobId,
  Person,
} from '@jotmark/core';
import { Brackets, type ObjectLiteral, type SelectQueryBuilder } from 'typeorm';
import type { Table } from '../database/columns.ts';
import {
  AssignmentTable,
  ConsentTable,
  CopyMemberTable,
  CopySheetTable,
  CopyTable,
  DocumentTable,
  HandBackOrderTable,
  HandBackTable,
  HandInDocumentTable,
  HandInTable,
  HelpFileTable,
  JobTable,
  MaterialTable,
  MembershipTable,
  PhraseTable,
  RemarkStudentTable,
  RemarkTable,
  RubricTable,
  RubricVersionTable,
  TakenBackTable,
  VoiceHandedBackTable,
  VoiceOnCopyTable,
  VoiceTable,
  WorksheetTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import { type Db, exists } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { Fault } from '../fault.ts';
import { isPicture } from './pictures.ts';

/** Who asks for which thing, and when. */
export interface Asking {
  readonly db: Db;
  readonly person: Person;
  readonly params: Readonly<Record<string, string>>;
  readonly now: number;
}

export interface Rule {
  /** Who may, in a sentence. */
  readonly says: string;
  readonly may: (asking: Asking) => Promise<boolean>;
}

type Query = SelectQueryBuilder<ObjectLiteral>;

/** Of a query that has a class's id in `of`: where this person teaches it. */
const taught = (query: Query, of: string, me: Person): Query =>
  query.innerJoin(
    MembershipTable.table,
    'm',
    `m.classId = ${of} AND m.role = 'teacher' AND m.personId = :me AND m.leftAt IS NULL`,
    { me: me.id },
  );

/** Of a query that has a copy's id in `of`: where it is one of this person's. */
const owned = (query: Query, of: string, me: Person): Query =>
  query.innerJoin(CopyMemberTable.table, 'cm', `cm.copyId = ${of} AND cm.personId = :me`, { me: me.id });

const from = <T extends object>(db: Db, table: Table<T>, alias: string): Query =>
  db.createQueryBuilder(table, alias) as unknown as Query;

export const teachesClass = ({ db, person }: Asking, id: ClassId) =>
  exists(
    from(db, MembershipTable, 'm').where(
      `m.classId = :id AND m.role = 'teacher' AND m.personId = :me AND m.leftAt IS NULL`,
      { id, me: person.id },
    ),
  );

const teachesAssignment = ({ db, person }: Asking, id: AssignmentId) =>
  exists(taught(from(db, AssignmentTable, 'a').where('a.id = :id', { id }), 'a.classId', person));

const copyTaught = (db: Db, me: Person) =>
  taught(from(db, CopyTable, 'c').innerJoin('c.assignment', 'a'), 'a.classId', me);

const teachesCopy = ({ db, person }: Asking, id: CopyId) =>
  exists(copyTaught(db, person).where('c.id = :id', { id }));

/** From the moment the assignment opens: before that it is not there. */
const ownsCopy = ({ db, person, now }: Asking, id: CopyId) =>
  exists(
    owned(
      from(db, CopyTable, 'c')
        .innerJoin('c.assignment', 'a', 'a.opensAt <= :now', { now: new Date(now) })
        .where('c.id = :id', { id }),
      'c.id',
      person,
    ),
  );

/** A hand-in that was taken back is told of as such: what was written for it is kept on the device. */
async function teachesHandIn({ db, person }: Asking, id: HandInId): Promise<boolean> {
  const of = (table: typeof HandInTable | typeof TakenBackTable) =>
    exists(copyTaught(db, person).innerJoin(table.table, 'h', 'h.copyId = c.id').where('h.id = :id', { id }));
  if (await of(HandInTable)) return true;
  if (await of(TakenBackTable)) throw new Fault('taken-back');
  return false;
}

const ownsWorksheet = ({ db, person }: Asking, id: string) =>
  exists(from(db, WorksheetTable, 'w').where('w.id = :id AND w.ownerId = :me', { id, me: person.id }));

const ownsRubric = ({ db, person }: Asking, id: string) =>
  exists(from(db, RubricTable, 'r').where('r.id = :id AND r.ownerId = :me', { id, me: person.id }));

const ownsRemark = ({ db, person }: Asking, id: string) =>
  exists(
    taught(from(db, RemarkTable, 'r').where('r.id = :id AND r.byId = :me', { id }), 'r.classId', person),
  );

const sharesRemark = ({ db, person }: Asking, id: string) =>
  exists(
    person.role === 'teacher'
      ? taught(from(db, RemarkTable, 'r').where('r.id = :id', { id }), 'r.classId', person)
      : from(db, RemarkStudentTable, 's').where('s.remarkId = :id AND s.personId = :me', {
          id,
          me: person.id,
        }),
  );

const rubricHangs = ({ db, person }: Asking, id: string) =>
  exists(
    taught(
      from(db, RubricVersionTable, 'v')
        .innerJoin(AssignmentTable.table, 'a', 'a.rubricVersionId = v.id')
        .where('v.rubricId = :id', { id }),
      'a.classId',
      person,
    ),
  );

const worksheetWasSet = ({ db, person }: Asking, id: string) =>
  exists(
    taught(
      from(db, WorksheetVersionTable, 'v')
        .innerJoin(MaterialTable.table, 'x', 'x.versionId = v.id')
        .innerJoin('x.assignment', 'a')
        .where('v.worksheetId = :id', { id }),
      'a.classId',
      person,
    ),
  );

const teacherSeesDocument = async ({ db, person }: Asking, id: DocumentId) =>
  (await exists(
    copyTaught(db, person)
      .innerJoin(HandInTable.table, 'h', 'h.copyId = c.id')
      .innerJoin(HandInDocumentTable.table, 'd', 'd.handInId = h.id')
      .where('d.documentId = :id', { id }),
  )) ||
  (await exists(
    from(db, DocumentTable, 'd').where('d.id = :id AND d.ownerId = :me', { id, me: person.id }),
  )) ||
  (await exists(
    copyTaught(db, person)
      .innerJoin(CopySheetTable.table, 's', 's.copyId = c.id')
      .innerJoin('s.version', 'v')
      .where('v.documentId = :id', { id }),
  )) ||
  (await exists(
    taught(
      from(db, MaterialTable, 'x')
        .leftJoin('x.version', 'v')
        .innerJoin('x.assignment', 'a')
        .where(
          new Brackets((or) => or.where('x.documentId = :id', { id }).orWhere('v.documentId = :id', { id })),
        ),
      'a.classId',
      person,
    ),
  )) ||
  liesOnTrial({ db, person }, id);

/** What lies on a teacher's own copy of a trial run. */
const liesOnTrial = ({ db, person }: Pick<Asking, 'db' | 'person'>, id: DocumentId) =>
  exists(
    owned(
      from(db, DocumentTable, 'd')
        .innerJoin(CopyTable.table, 'c', 'c.id = d.copyId')
        .innerJoin('c.assignment', 'a', 'a.trialOf IS NOT NULL')
        .where('d.id = :id', { id }),
      'd.copyId',
      person,
    ),
  );

const studentSeesDocument = async ({ db, person, now }: Asking, id: DocumentId) => {
  const open = (query: Query) =>
    query.andWhere('a.opensAt <= :now', { now: new Date(now) }).setParameter('id', id);
  return (
    (await exists(owned(from(db, DocumentTable, 'd').where('d.id = :id', { id }), 'd.copyId', person))) ||
    (await exists(
      owned(from(db, HelpFileTable, 'f').where('f.documentId = :id', { id }), 'f.copyId', person),
    )) ||
    (await exists(
      open(
        owned(
          from(db, WorksheetVersionTable, 'v')
            .innerJoin(CopySheetTable.table, 's', 's.versionId = v.id')
            .innerJoin('s.copy', 'c')
            .innerJoin('c.assignment', 'a')
            .where('v.documentId = :id'),
          'c.id',
          person,
        ),
      ),
    )) ||
    (await exists(
      open(
        owned(
          from(db, MaterialTable, 'x')
            .innerJoin('x.assignment', 'a')
            .innerJoin(CopyTable.table, 'c', 'c.assignmentId = a.id')
            .where('x.documentId = :id'),
          'c.id',
          person,
        ),
      ),
    ))
  );
};

const gotHandBack = ({ db, person }: Asking, id: HandBackId) =>
  exists(owned(from(db, HandBackTable, 'b').where('b.id = :id', { id }), 'b.copyId', person));

const teachesHandBack = ({ db, person }: Asking, id: HandBackId) =>
  exists(
    copyTaught(db, person).innerJoin(HandBackTable.table, 'b', 'b.copyId = c.id').where('b.id = :id', { id }),
  );

async function ordered(asking: Asking, id: JobId): Promise<boolean> {
  const { db, person } = asking;
  const own = from(db, JobTable, 'j').where('j.id = :id AND j.personId = :me', { id, me: person.id });
  if (await exists(own)) return true;
  // A group's hand-back is made a PDF once for all of them.
  return exists(
    owned(
      from(db, JobTable, 'j')
        .innerJoin(HandBackTable.table, 'b', `b.id = j.subject AND j.kind = 'hand-back-pdf'`)
        .where('j.id = :id', { id }),
      'b.copyId',
      person,
    ),
  );
}

/** Who teaches the class of what waits for its time. */
const teachesOrder = ({ db, person }: Asking, id: HandBackOrderId) =>
  exists(
    taught(
      from(db, HandBackOrderTable, 'o').innerJoin('o.assignment', 'a').where('o.id = :id', { id }),
      'a.classId',
      person,
    ),
  );

/** A student hears what was handed back to them, and nothing else of any marking. */
const studentHears = ({ db, person }: Asking, file: string) =>
  exists(
    owned(
      from(db, VoiceHandedBackTable, 'v').innerJoin('v.handBack', 'b').where('v.sha256 = :file', { file }),
      'b.copyId',
      person,
    ),
  );

const teacherHears = async ({ db, person }: Asking, file: string) =>
  (await exists(
    from(db, VoiceTable, 'v').where('v.sha256 = :file AND v.ownerId = :me', { file, me: person.id }),
  )) ||
  exists(
    copyTaught(db, person)
      .innerJoin(VoiceOnCopyTable.table, 'v', 'v.copyId = c.id')
      .where('v.sha256 = :file', { file }),
  );

const thing = <T extends string>(name: string, may: (asking: Asking, id: T) => Promise<boolean>) => {
  return (asking: Asking) => may(asking, asking.params[name] as T);
};
const yes = async () => true;

/**
 * Who may do what to which thing, one rule a line. A thing that somebody may not see is not found, so that ids tell nothing. Which rule holds for
 * which request stands in `access.ts`.
 */
export const RULES = {
  open: { says: 'Anyone. An address that nobody can guess is its own key.', may: yes },
  own: { says: 'Who is signed in: it holds only what is their own.', may: yes },
  'in-its-transaction': {
    says: 'As for a hand-in that one teaches; asked under the lock of the marking itself, since a pen waits for it.',
    may: yes,
  },
  'teaches-class': {
    says: 'A teacher of the class.',
    may: thing('classId', teachesClass),
  },
  'teaches-assignment': {
    says: 'A teacher of the class that the assignment was set for.',
    may: thing('assignmentId', teachesAssignment),
  },
  'teaches-copy': {
    says: 'A teacher of the class that the copy belongs to.',
    may: thing('copyId', teachesCopy),
  },
  'teaches-order': {
    says: 'A teacher of the class whose copies go back then.',
    may: thing('orderId', teachesOrder),
  },
  'teaches-hand-in': {
    says: 'A teacher of the class that the copy belongs to that was handed in.',
    may: thing('handInId', teachesHandIn),
  },
  'owns-copy': {
    says: 'A student whose copy it is, alone or in a group, from the moment the assignment opens.',
    may: thing('copyId', ownsCopy),
  },
  'shares-copy': {
    says: 'The students whose copy it is, and the teachers of its class.',
    may: thing<CopyId>('copyId', (asking, id) =>
      asking.person.role === 'teacher' ? teachesCopy(asking, id) : ownsCopy(asking, id),
    ),
  },
  'sees-worksheet': {
    says: 'Its maker, and who teaches a class in which it was set.',
    may: thing<string>(
      'worksheetId',
      async (asking, id) => (await ownsWorksheet(asking, id)) || worksheetWasSet(asking, id),
    ),
  },
  'sees-rubric': {
    says: 'Its maker, and who teaches a class in which it hangs on work.',
    may: thing<string>(
      'rubricId',
      async (asking, id) => (await ownsRubric(asking, id)) || rubricHangs(asking, id),
    ),
  },
  'owns-rubric': {
    says: 'Its maker alone: who has it in a class may duplicate it.',
    may: thing<string>('rubricId', ownsRubric),
  },
  'owns-phrase': {
    says: 'Whose comment bank the phrase lies in.',
    may: thing<string>('phraseId', ({ db, person }, id) =>
      exists(from(db, PhraseTable, 'p').where('p.id = :id AND p.ownerId = :me', { id, me: person.id })),
    ),
  },
  'owns-remark': {
    says: 'Who wrote the remark, as long as they teach the class.',
    may: thing<string>('remarkId', ownsRemark),
  },
  'shares-remark': {
    says: 'The students it is for, each in their own log, and the teachers of the class.',
    may: thing<string>('remarkId', sharesRemark),
  },
  'answers-consent': {
    says: 'A teacher who has the student, other than who asked, and the administrators; where the student asks, the teachers of the class.',
    may: thing<ConsentId>('consentId', async (asking, id) => {
      const { db, person } = asking;
      const question = await find(db, ConsentTable, { id });
      if (!question || question.askedById === person.id) return false;
      if (person.role === 'administrator') return true;
      if (question.askedById === question.personId) return teachesClass(asking, question.classId);
      return exists(
        taught(from(db, MembershipTable, 's'), 's.classId', person).where(
          `s.personId = :student AND s.role = 'student' AND s.leftAt IS NULL`,
          { student: question.personId },
        ),
      );
    }),
  },
  'owns-worksheet': {
    says: 'Its maker alone: who has it in a class may use it, not change it.',
    may: thing<string>('worksheetId', async (asking, id) => {
      if (await ownsWorksheet(asking, id)) return true;
      if (await worksheetWasSet(asking, id)) throw new Fault('not-your-worksheet');
      return false;
    }),
  },
  'sees-document': {
    says: 'Students: what lies on their copies, their worksheets, what there is to look at. Teachers: what was handed in to them, what they own, what belongs to assignments of their classes.',
    may: thing<DocumentId>('documentId', (asking, id) =>
      asking.person.role === 'student' ? studentSeesDocument(asking, id) : teacherSeesDocument(asking, id),
    ),
  },
  'sees-hand-back': {
    says: 'A student to whom it was handed back, and the teachers of the class of the copy.',
    may: thing<HandBackId>('handBackId', (asking, id) =>
      asking.person.role === 'student' ? gotHandBack(asking, id) : teachesHandBack(asking, id),
    ),
  },
  'got-hand-back': {
    says: 'A student to whom it was handed back.',
    may: thing('handBackId', gotHandBack),
  },
  'ordered-it': {
    says: 'Who ordered it; of a hand-back’s PDF every student of the copy.',
    may: thing('jobId', ordered),
  },
  'hears-voice': {
    says: 'Who recorded it, and the teachers of a class with a copy whose marking names it; students only what was handed back to them.',
    may: thing<string>('file', (asking, file) =>
      asking.person.role === 'student' ? studentHears(asking, file) : teacherHears(asking, file),
    ),
  },
  'names-picture': {
    says: 'Who is signed in and names it by the SHA-256 of its bytes: only a mark that one can see says it.',
    may: ({ db, params }) => isPicture(db, params.picture!),
  },
} as const satisfies Readonly<Record<string, Rule>>;
export type RuleName = keyof typeof RULES;

import {
  type ClassId,
  type CopyId,
  type DocumentId,
  fullName,
  type HandInContent,
  type HandInId,
  type LongText,
  lateBy,
  type Mark,
  type Person,
  type PersonId,
  plainText,
  type Question,
  type QuestionId,
  readQuestions,
  realName,
  type VersionId,
} from '@jotmark/core';
import { addMessage } from '../conversation/messages.ts';
import { newestHandIn } from '../copy/away.ts';
import { filesIn } from '../copy/files.ts';
import { readCopyState } from '../copy/state.ts';
import { writtenTexts } from '../copy/texts.ts';
import {
  AssignmentTable,
  CopySheetTable,
  CopyTable,
  DocumentTable,
  type HandInAnswerRow,
  HandInAnswerTable,
  HandInDocumentTable,
  HandInTable,
  MembershipTable,
  TakenBackTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert, lock } from '../database/write.ts';
import { newDocument, orderReading } from '../document/document.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { hintCopy } from '../live/hint.ts';
import { teachersOfCopy } from '../news/of-class.ts';
import { tell } from '../news/tell.ts';
import { whose } from '../people/students.ts';
import { answerDigest } from './answers.ts';

export interface HandingIn {
  readonly id: HandInId;
  readonly cover: string;
  readonly claimedAt: number | null;
}

/**
 * Freezes a copy as it stands as its next hand-in: worksheet version, answers, drawing, files. The copy's lock is taken first and everything is read after
 * it: what was acknowledged before is in it, what comes after is refused. The id is the client's: the same request sent twice counts once. While a
 * hand-in is with the teacher there is no second one.
 */
export async function handIn(
  house: House,
  person: Pick<Person, 'id'>,
  copyId: CopyId,
  what: HandingIn,
): Promise<HandInId> {
  return inTransaction(house.db, async (tx) => {
    await handInIn(house, tx, person, copyId, what, null);
    return what.id;
  });
}

/** What a teacher brings in for a student. */
export interface Brought {
  readonly documents: readonly DocumentId[];
  readonly onTime: boolean;
}

/**
 * The same in a transaction that does more; gives whether it is a new one. What a teacher brings goes behind what lies on the copy; a worksheet on which
 * nothing was written stays out of it.
 */
export async function handInIn(
  house: House,
  tx: Db,
  person: Pick<Person, 'id'>,
  copyId: CopyId,
  what: HandingIn,
  brought: Brought | null,
): Promise<boolean> {
  const copy = await lock(tx, CopyTable, { id: copyId });
  if (!copy) throw new Fault('not-found');
  if (await isKnown(tx, copyId, what.id)) return false;
  const last = await newestHandIn(tx, copyId);
  if (last && !last.cameBack) throw new Fault('already-handed-in');
  const assignment = (await find(tx, AssignmentTable, { id: copy.assignmentId }))!;
  if (await isTaken(tx, what.id)) throw new Fault('id-taken');
  // Who has left keeps their work; a teacher can still bring something in for them.
  if (!brought && (await hasLeft(tx, assignment.classId, person.id))) throw new Fault('left-class');
  const files = await filesIn(tx, copyId);
  const written = await freezeSheets(tx, copyId);
  const sheets = brought ? written.filter(isWritten) : written;
  if (assignment.handsIn && sheets.length === 0 && files.length === 0) throw new Fault('nothing-to-hand-in');
  const now = house.now();
  await insert(tx, HandInTable, {
    id: what.id,
    copyId,
    number: (last?.handIn.number ?? 0) + 1,
    byId: person.id,
    handedInAt: now,
    lateMs: brought?.onTime ? 0 : lateBy(copy.dueAt ?? assignment.dueAt, now),
    claimedAt: what.claimedAt === null ? null : Math.min(what.claimedAt, now),
    content: {
      v: 1,
      sheets: sheets.map(({ versionId, answers, texts, marks }) => ({
        versionId,
        answers,
        ...(Object.keys(texts).length && { texts }),
        marks,
      })),
    },
    brought: brought && [...brought.documents],
  });
  await keepAnswers(tx, what.id, sheets);
  const student = fullName(realName((await whose(tx, copyId))?.students ?? []));
  const documents: DocumentId[] = [];
  for (const sheet of sheets)
    documents.push(await filledSheet(house, tx, person.id, copyId, what.id, sheet, student));
  documents.push(...files.map((f) => f.documentId));
  if (documents.length)
    await insert(
      tx,
      HandInDocumentTable,
      documents.map((documentId, position) => ({ handInId: what.id, position, documentId })),
    );
  await hintCopy(tx, copyId, 'hand-in', now);
  if (what.cover)
    await addMessage(house, tx, {
      copyId,
      by: person.id,
      words: what.cover,
      cover: true,
      quietly: true,
    });
  const { teachers } = (await teachersOfCopy(tx, copyId)) ?? { teachers: [] };
  await tell(
    house,
    tx,
    teachers.map((to) => ({
      to,
      what: {
        kind: last ? 'in-again' : 'handed-in',
        assignmentId: copy.assignmentId,
        copyId,
        byId: person.id,
        words: what.cover,
      },
    })),
  );
  return true;
}

/** Whether anything was answered or drawn on it. */
const isWritten = ({ answers, texts, marks }: FrozenSheet): boolean =>
  Object.keys(answers).length + Object.keys(texts).length + marks.length > 0;

/** Whether an id is that of a hand-in of any copy. */
const isTaken = async (tx: Db, id: HandInId): Promise<boolean> =>
  (await find(tx, HandInTable, { id })) !== null || (await find(tx, TakenBackTable, { id })) !== null;

/** Whether somebody was a student of this class and is no more. A teacher who tries work out never was. */
async function hasLeft(tx: Db, classId: ClassId, personId: PersonId): Promise<boolean> {
  const member = await find(tx, MembershipTable, { classId, personId, role: 'student' });
  return member !== null && member.leftAt !== null;
}

/** Whether this very hand-in was made before, taken back meanwhile or not. */
async function isKnown(tx: Db, copyId: CopyId, id: HandInId): Promise<boolean> {
  return (
    (await find(tx, HandInTable, { id, copyId })) !== null ||
    (await find(tx, TakenBackTable, { id, copyId })) !== null
  );
}

interface FrozenSheet {
  readonly versionId: VersionId;
  readonly name: string;
  readonly pages: number;
  readonly questions: readonly Question[];
  readonly answers: HandInContent['sheets'][number]['answers'];
  readonly texts: Readonly<Record<QuestionId, LongText>>;
  readonly marks: Mark[];
}

async function freezeSheets(tx: Db, copyId: CopyId): Promise<FrozenSheet[]> {
  const rows = await pick(
    tx
      .createQueryBuilder(CopySheetTable, 's')
      .innerJoin('s.version', 'v')
      .innerJoin('v.worksheet', 'k')
      .innerJoin('v.document', 'd')
      .where('s.copyId = :copyId', { copyId })
      .orderBy('s.position'),
    {
      versionId: col('s.versionId', as.id<VersionId>()),
      name: col('k.name', as.text),
      questions: col('v.questions', as.json(readQuestions)),
      documentId: col('v.documentId', as.id<DocumentId>()),
      pages: col('d.pages', as.int),
    },
  );
  if (rows.length === 0) return [];
  const state = await readCopyState(tx, copyId);
  const texts = await writtenTexts(tx, copyId);
  return rows.map(({ versionId, name, pages, questions, documentId }) => {
    const ids = new Set(questions.map((q) => q.id));
    return {
      versionId,
      name,
      pages,
      questions,
      answers: Object.fromEntries(
        state.answers.filter((a) => ids.has(a.question) && a.value !== '').map((a) => [a.question, a.value]),
      ),
      texts: Object.fromEntries(texts.filter((t) => ids.has(t.question)).map((t) => [t.question, t.text])),
      marks: state.marks.flatMap((m) => (m.mark?.document === documentId ? [m.mark] : [])),
    };
  });
}

/** Answers as rows beside what is frozen, so that a question can be read across the class. */
async function keepAnswers(tx: Db, handInId: HandInId, sheets: readonly FrozenSheet[]): Promise<void> {
  const rows = sheets.flatMap(({ versionId, questions, answers, texts }) =>
    questions.flatMap((q): HandInAnswerRow[] => {
      const grown = texts[q.id];
      const value = grown ? plainText(grown) : answers[q.id];
      if (value === undefined) return [];
      const digest = answerDigest(value);
      return [{ handInId, questionId: q.id, versionId, kind: q.answer.kind, value, digest, points: null }];
    }),
  );
  if (rows.length) await insert(tx, HandInAnswerTable, rows);
}

/** A document of its own for the filled-in worksheet; a job writes its pages from what was frozen. */
async function filledSheet(
  house: House,
  tx: Db,
  forWhom: PersonId,
  copyId: CopyId,
  handInId: HandInId,
  sheet: FrozenSheet,
  student: string,
): Promise<DocumentId> {
  const row = {
    ...newDocument(house, { copyId }, `${sheet.name} – ${student}`),
    pages: sheet.pages,
    filledFrom: handInId,
    versionId: sheet.versionId,
  };
  await insert(tx, DocumentTable, row);
  await orderReading(house, tx, row.id, { forWhom, size: 0, awaited: false });
  return row.id;
}

import {
  type AssignmentId,
  type ClassId,
  CopyId,
  HandBackId,
  type HandInId,
  type Person,
  type PersonId,
  type RouteName,
  type Who,
  type WorksheetId,
} from '@jotmark/core';
import { In } from 'typeorm';
import { AssignmentTable, CopyMemberTable, MembershipTable } from '../database/entities/index.ts';
import { as, col, type Db, exists, pick } from '../database/pick.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import { type Asking, RULES, type Rule, type RuleName } from './rules.ts';

/**
 * Which rule holds for which request. The role (student, teacher, anyone) stands in the contract; the rule is asked before a body is read. A route that
 * is not here does not compile.
 */
export const ACCESS: Readonly<Record<RouteName, RuleName>> = {
  // For everybody
  health: 'open',
  openapi: 'open',
  session: 'open',
  signIn: 'open',
  family: 'open',
  familyFile: 'open',
  familyLog: 'open',
  familyVoice: 'open',
  calendar: 'open',
  // One's own
  signOut: 'own',
  news: 'own',
  readNews: 'own',
  newsLive: 'own',
  newsChoices: 'own',
  chooseNews: 'own',
  /** Letters to oneself and to one's students; asked where they are read. */
  mails: 'own',
  mailFile: 'own',
  changePassword: 'own',
  account: 'own',
  endSession: 'own',
  endOtherSessions: 'own',
  deviceKey: 'own',
  startStep: 'own',
  confirmStep: 'own',
  dropStep: 'own',
  // The school: the role says who
  schoolPeople: 'own',
  addStaff: 'own',
  correctPerson: 'own',
  resetPerson: 'own',
  mergePeople: 'own',
  schoolActs: 'own',
  /** Those that are for this person to answer, and their own. */
  consents: 'own',
  askConsent: 'teaches-class',
  answerConsent: 'answers-consent',
  joinCode: 'teaches-class',
  askToJoin: 'own',
  unread: 'own',
  today: 'own',
  classes: 'own',
  addClass: 'own',
  trays: 'own',
  keepTrays: 'own',
  bank: 'own',
  keepPhrases: 'own',
  bankLive: 'own',
  orderGroups: 'own',
  removePhrase: 'owns-phrase',
  mergePhrases: 'owns-phrase',
  phraseUses: 'owns-phrase',
  followPhrase: 'owns-phrase',
  focuses: 'own',
  keepFocuses: 'own',
  addHelpFile: 'own',
  keepPicture: 'own',
  worksheets: 'own',
  makeWorksheet: 'own',
  workList: 'own',
  job: 'ordered-it',
  jobAgain: 'ordered-it',
  jobFile: 'ordered-it',
  jobStop: 'ordered-it',
  /** And what it names is asked where it is ordered. */
  takeOut: 'own',
  takeOutMine: 'own',
  picture: 'names-picture',
  keepVoicePart: 'own',
  voice: 'hears-voice',
  plainVoice: 'hears-voice',
  // Classes and who is in them; see also `mayEnrol` and `mayReset`
  changeClass: 'teaches-class',
  archiveClass: 'teaches-class',
  acts: 'teaches-class',
  markBook: 'teaches-class',
  saveBookRule: 'teaches-class',
  bringGrades: 'teaches-class',
  // What students are told; whether the student is in the class is asked where it is read
  feedbackLog: 'teaches-class',
  logAddress: 'teaches-class',
  /** Of a class that one is in: asked where it is made. */
  calendarAddress: 'own',
  lastWords: 'teaches-class',
  classLook: 'teaches-class',
  addRemark: 'teaches-class',
  changeRemark: 'owns-remark',
  removeRemark: 'owns-remark',
  answerRemark: 'shares-remark',
  ownLogs: 'own',
  reports: 'teaches-class',
  saveReport: 'teaches-class',
  register: 'teaches-class',
  planStudents: 'teaches-class',
  addStudents: 'teaches-class',
  correctStudent: 'teaches-class',
  removeStudent: 'teaches-class',
  eraseStudent: 'teaches-class',
  returnStudent: 'teaches-class',
  newPasswords: 'teaches-class',
  addTeacher: 'teaches-class',
  removeTeacher: 'teaches-class',
  // Setting work
  assignments: 'teaches-class',
  startAssignment: 'teaches-class',
  assignment: 'teaches-assignment',
  saveAssignment: 'teaches-assignment',
  closeTakingBack: 'teaches-assignment',
  setAssignment: 'teaches-assignment',
  addMaterialFile: 'teaches-assignment',
  addMaterialLink: 'teaches-assignment',
  /** And of the worksheet: who may see it. */
  addMaterialWorksheet: 'teaches-assignment',
  addWritingPages: 'teaches-assignment',
  saveTogether: 'teaches-assignment',
  moveMember: 'teaches-assignment',
  removeMaterial: 'teaches-assignment',
  orderMaterials: 'teaches-assignment',
  addPicture: 'teaches-assignment',
  /** And of the class it is for: who teaches it. */
  setAgain: 'teaches-assignment',
  putAway: 'teaches-assignment',
  startTrial: 'teaches-assignment',
  endTrial: 'teaches-assignment',
  studentTerms: 'teaches-assignment',
  familyAddress: 'teaches-assignment',
  worksheet: 'sees-worksheet',
  renameWorksheet: 'owns-worksheet',
  saveQuestions: 'owns-worksheet',
  // Scores
  rubrics: 'own',
  makeRubric: 'own',
  readTable: 'own',
  rubric: 'sees-rubric',
  rubricFile: 'sees-rubric',
  saveRubric: 'owns-rubric',
  archiveRubric: 'owns-rubric',
  scoring: 'teaches-assignment',
  /** And of the rubric: one's own, or one that hangs on work of one's classes. */
  tryScoring: 'teaches-assignment',
  saveScoring: 'teaches-assignment',
  saveKey: 'owns-worksheet',
  pileScores: 'teaches-assignment',
  across: 'teaches-assignment',
  evenOut: 'teaches-assignment',
  undoEvening: 'teaches-assignment',
  releaseMidway: 'teaches-assignment',
  scoreSheet: 'teaches-copy',
  sendCopyMarking: 'in-its-transaction',
  copyMarkingSince: 'teaches-copy',
  // The pile, the room, the desk
  pile: 'teaches-assignment',
  handBack: 'teaches-assignment',
  handBackSoon: 'teaches-assignment',
  checkHandBack: 'teaches-assignment',
  recall: 'teaches-assignment',
  undoHandBack: 'teaches-order',
  asStudent: 'teaches-copy',
  addFileFor: 'teaches-copy',
  handInFor: 'teaches-copy',
  undoHandInFor: 'teaches-copy',
  changeAgain: 'teaches-copy',
  setBlind: 'teaches-assignment',
  pileTerms: 'teaches-assignment',
  zipOriginals: 'teaches-assignment',
  room: 'teaches-assignment',
  roomLive: 'teaches-assignment',
  sayToMany: 'teaches-assignment',
  bringInAny: 'teaches-assignment',
  closeLook: 'teaches-copy',
  desk: 'teaches-copy',
  beside: 'teaches-copy',
  sendChanges: 'in-its-transaction',
  /** And the phrase is one's own. */
  usePhrase: 'teaches-hand-in',
  changesSince: 'teaches-hand-in',
  leaveAt: 'teaches-hand-in',
  deskLive: 'teaches-hand-in',
  markedPdf: 'teaches-hand-in',
  bringIn: 'teaches-hand-in',
  // Documents
  documentPages: 'sees-document',
  documentText: 'sees-document',
  documentShapes: 'sees-document',
  documentFile: 'sees-document',
  documentOriginal: 'sees-document',
  documentLink: 'sees-document',
  documentPicture: 'sees-document',
  documentAgain: 'sees-document',
  turnPages: 'sees-document',
  // A student's work
  work: 'owns-copy',
  sendCopyChanges: 'owns-copy',
  copyChangesSince: 'owns-copy',
  copyLive: 'owns-copy',
  addFile: 'owns-copy',
  addTextPicture: 'owns-copy',
  groupsToChoose: 'owns-copy',
  joinGroup: 'owns-copy',
  addLink: 'owns-copy',
  removeFile: 'owns-copy',
  orderFiles: 'owns-copy',
  handIn: 'owns-copy',
  takeBack: 'owns-copy',
  handBackAsItWent: 'sees-hand-back',
  makePdf: 'got-hand-back',
  pdfFile: 'got-hand-back',
  heard: 'got-hand-back',
  opened: 'got-hand-back',
  // Between students and teachers
  messages: 'shares-copy',
  say: 'shares-copy',
  /** And it is one's own. */
  editMessage: 'shares-copy',
  withdrawMessage: 'shares-copy',
  readMessages: 'shares-copy',
  trail: 'shares-copy',
};

const asking = (house: House, person: Person, params: Asking['params']): Asking => ({
  db: house.db.manager,
  person,
  params,
  now: house.now(),
});

/** A teacher does what a student may do with a copy of their own: there is one only in a trial run. Which copy it is must be said; what holds for it is asked by the route's own rule. */
export async function triesItOut(
  house: House,
  person: Person,
  who: Who,
  { copyId, handBackId }: Readonly<Record<string, unknown>>,
): Promise<boolean> {
  if (who !== 'student' || person.role !== 'teacher') return false;
  const db = house.db.manager;
  const own = (of: string) =>
    db
      .createQueryBuilder(CopyMemberTable, 'cm')
      .innerJoin(AssignmentTable.table, 'a', 'a.id = cm.assignmentId AND a.trialOf IS NOT NULL')
      .where(`cm.personId = :me AND ${of}`, { me: person.id, copyId, handBackId });
  if (CopyId.safeParse(copyId).success) return exists(own('cm.copyId = :copyId'));
  if (HandBackId.safeParse(handBackId).success)
    return exists(own('cm.copyId = (SELECT b.copy_id FROM hand_back b WHERE b.id = :handBackId)'));
  return false;
}

/** Lets a request through, or says that there is nothing. */
export async function allow(
  house: House,
  route: RouteName,
  person: Person | null,
  params: Asking['params'],
): Promise<void> {
  const name = ACCESS[route];
  if (name === 'open') return;
  // Fails closed: a rule about somebody is never asked of nobody.
  if (!person) throw new Fault('not-signed-in');
  await must(RULES[name], asking(house, person, params));
}

/** What a request names in its body is asked in the same way. */
export const mustTeachClass = async (house: House, person: Person, classId: ClassId): Promise<void> =>
  must(RULES['teaches-class'], asking(house, person, { classId }));

export const mustTeachHandIn = async (house: House, person: Person, handInId: HandInId): Promise<void> =>
  must(RULES['teaches-hand-in'], asking(house, person, { handInId }));

export const mustTeachAssignment = async (
  house: House,
  person: Person,
  assignmentId: AssignmentId,
): Promise<void> => must(RULES['teaches-assignment'], asking(house, person, { assignmentId }));

export const mustSeeWorksheet = async (house: House, person: Person, id: WorksheetId): Promise<void> =>
  must(RULES['sees-worksheet'], asking(house, person, { worksheetId: id }));

async function must(rule: Rule, question: Asking): Promise<void> {
  if (!(await rule.may(question))) throw new Fault('not-found');
}

/**
 * Whom a teacher may take into a class of theirs besides new students: who is or was in it, and whom they teach in another class. Nobody takes a student
 * over by writing a login down; a colleague who has the student can be added to the class and take them in.
 */
export async function mayEnrol(db: Db, teacher: Person, people: readonly PersonId[]): Promise<Set<PersonId>> {
  if (people.length === 0) return new Set();
  const rows = await pick(
    db
      .createQueryBuilder(MembershipTable, 's')
      .innerJoin(
        MembershipTable.table,
        't',
        `t.classId = s.classId AND t.role = 'teacher' AND t.personId = :me AND t.leftAt IS NULL`,
        { me: teacher.id },
      )
      .where(`s.role = 'student' AND s.leftAt IS NULL AND s.personId IN (:...people)`, { people }),
    { id: col('s.personId', as.id<PersonId>()) },
  );
  return new Set(rows.map((r) => r.id));
}

/** Whose password a teacher of this class may reset: students who are in it now. */
export async function mustReset(db: Db, classId: ClassId, people: readonly PersonId[]): Promise<void> {
  const there = await db
    .getRepository(MembershipTable)
    .find({ where: { classId, role: 'student', personId: In([...people]) } });
  const now = new Set(there.filter((m) => m.leftAt === null).map((m) => m.personId));
  if (people.some((p) => !now.has(p))) throw new Fault('not-found');
}

import type {
  AssignmentId,
  ClassId,
  CopyId,
  DocumentId,
  HandBackId,
  HandInId,
  PersonId,
  PhraseId,
  QuestionId,
  RubricId,
  WorksheetId,
} from '@jotmark/core';

/** Under which name each answer of the server is kept in this tab. No key is written anywhere else. */
export const keys = {
  session: ['session'],
  today: ['today'],
  /** Copies with words that were not read yet. */
  unread: ['unread'],
  news: ['news'],
  newsChoices: ['news-choices'],
  mails: ['mails'],
  trays: ['trays'],
  bank: ['bank'],
  phraseUses: (id: PhraseId) => ['phrase-uses', id],
  focuses: ['focuses'],
  classes: ['classes'],
  register: (classId?: ClassId) => (classId ? ['register', classId] : ['register']),
  consents: ['consents'],
  people: (like?: string, role?: string) => (like === undefined ? ['people'] : ['people', like, role ?? '']),
  merge: (keep: PersonId, gone: PersonId | null) => ['merge', keep, gone ?? ''],
  schoolActs: ['school-acts'],
  account: ['account'],
  firstPasswords: (classId?: ClassId) => (classId ? ['first-passwords', classId] : ['first-passwords']),
  assignments: (classId?: ClassId) => (classId ? ['assignments', classId] : ['assignments']),
  assignment: (id?: AssignmentId) => (id ? ['assignment', id] : ['assignment']),
  pile: (id?: AssignmentId) => (id ? ['pile', id] : ['pile']),
  room: (id?: AssignmentId) => (id ? ['room', id] : ['room']),
  look: (copyId?: CopyId) => (copyId ? ['look', copyId] : ['look']),
  trail: (copyId?: CopyId) => (copyId ? ['trail', copyId] : ['trail']),
  groups: (copyId: CopyId) => ['groups', copyId],
  /** Of a class: when each heard something; of a student of it: all they were told, and the reports about them. */
  logs: (classId?: ClassId) => (classId ? ['logs', classId] : ['logs']),
  log: (classId: ClassId, personId?: PersonId) => (personId ? ['log', classId, personId] : ['log', classId]),
  reports: (classId: ClassId, personId: PersonId) => ['reports', classId, personId],
  acts: (classId: ClassId) => ['acts', classId],
  classLook: (classId?: ClassId) => (classId ? ['class-look', classId] : ['class-look']),
  ownLogs: ['own-logs'],
  markBook: (classId?: ClassId) => (classId ? ['mark-book', classId] : ['mark-book']),
  /** One copy, to be scored without its pages. */
  score: (copyId: CopyId) => ['score', copyId],
  scoring: (id: AssignmentId) => ['scoring', id],
  pileScores: (id?: AssignmentId) => (id ? ['pile-scores', id] : ['pile-scores']),
  across: (id?: AssignmentId, question?: QuestionId) =>
    id && question ? ['across', id, question] : ['across'],
  rubrics: ['rubrics'],
  rubric: (id: RubricId) => ['rubric', id],
  desk: (copyId?: CopyId) => (copyId ? ['desk', copyId] : ['desk']),
  /** As its student would get it now. */
  handBack: (id: HandBackId) => ['hand-back', id],
  asStudent: (copyId: CopyId, how: string) => ['as-student', copyId, how],
  backCheck: (id: AssignmentId, copies: string) => ['back-check', id, copies],
  beside: (copyId?: CopyId) => (copyId ? ['beside', copyId] : ['beside']),
  messages: (copyId?: CopyId) => (copyId ? ['messages', copyId] : ['messages']),
  markingLog: (handInId: HandInId) => ['marking-log', handInId],
  worksheets: ['worksheets'],
  worksheet: (id: WorksheetId) => ['worksheet', id],
  /** Of a document: its pages, their text, or the boxes and lines drawn on them. */
  document: (id: DocumentId, part: 'pages' | 'text' | 'shapes') => ['document', id, part],
  /** A student's list of work, and one copy of it. */
  myWork: ['my-work'],
  work: (copyId?: CopyId) => (copyId ? ['work', copyId] : ['work']),
  familyLog: (token: string) => ['family-log', token],
  /** An address that opens something, by what it opens. */
  openAddress: (what: string) => ['open-address', what],
  family: (token: string) => ['family', token],
} as const;

export type Key = readonly string[];

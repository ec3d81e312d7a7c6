import * as z from 'zod';

/** What somebody looked at or changed that the log of a class tells of, and how it is said. */
export const ACT_WORDS_OF = {
  desk: 'opened a copy at the desk',
  trail: 'looked at a working trail',
  markBook: 'opened the mark book',
  feedbackLog: 'opened a feedback log',
  classLook: 'looked at what the class was told',
  takeOut: 'saved a file of it',
  handBack: 'handed copies back',
  recall: 'recalled copies',
  studentTerms: 'changed a date or excused somebody',
  setBlind: 'changed blind marking',
  saveBookRule: 'changed how the mark book adds up',
  addRemark: 'wrote a remark',
  removeRemark: 'withdrew a remark',
  saveReport: 'wrote a report',
  addStudents: 'took students in',
  correctStudent: 'corrected a student’s name or login',
  removeStudent: 'removed a student',
  returnStudent: 'brought a student back',
  newPasswords: 'made new passwords',
  addTeacher: 'added a teacher',
  removeTeacher: 'removed a teacher',
  eraseStudent: 'erased a student’s data',
  archiveClass: 'archived the class, or brought it back',
  logAddress: 'changed the family’s address of a log',
  closeTakingBack: 'ended taking back',
  askConsent: 'asked to take a student in',
  answerConsent: 'answered a request to take a student in',
  joinCode: 'made or ended a code to join by',
  addStaff: 'made an account',
  correctPerson: 'corrected a name or login',
  resetPerson: 'made a new password',
  mergePeople: 'made two accounts one',
} as const;
export type LoggedAct = keyof typeof ACT_WORDS_OF;
export const LoggedAct = z.enum(Object.keys(ACT_WORDS_OF) as [LoggedAct, ...LoggedAct[]]);

export const ActLine = z.object({
  at: z.int().min(0),
  by: z.string(),
  act: LoggedAct,
  /** Whom it was about; empty: nobody alone. */
  about: z.string(),
  /** The work it was about; empty: none. */
  title: z.string(),
});
export type ActLine = z.infer<typeof ActLine>;

/** What of it is about accounts, and belongs into the log of the school. */
export const ACCOUNT_ACTS: readonly LoggedAct[] = [
  'addStaff',
  'correctPerson',
  'resetPerson',
  'mergePeople',
  'askConsent',
  'answerConsent',
  'joinCode',
  'addStudents',
  'correctStudent',
  'newPasswords',
  'eraseStudent',
  'addTeacher',
  'removeTeacher',
];

export const SchoolActLine = ActLine.extend({
  /** The class it was done in; empty: none. */
  className: z.string(),
});
export type SchoolActLine = z.infer<typeof SchoolActLine>;

/** So many lines are shown, the newest first. */
export const ACTS_SHOWN = 300;

import { later } from './later.tsx';

/** Every view, each in a part of its own: what a student's telephone never shows it never loads. */
export const views = {
  signIn: later(() => import('../sign-in/SignIn.tsx').then((m) => m.SignIn)),
  account: later(() => import('../account/AccountView.tsx').then((m) => m.AccountView)),
  chooseOwn: later(() => import('../account/ChooseOwn.tsx').then((m) => m.ChooseOwn)),
  trail: later(() => import('../trail/TrailView.tsx').then((m) => m.TrailView)),
  news: later(() => import('../news/NewsView.tsx').then((m) => m.NewsView)),
  familyLog: later(() => import('../log/FamilyLogView.tsx').then((m) => m.FamilyLogView)),
  family: later(() => import('../setting/FamilyView.tsx').then((m) => m.FamilyView)),
};

/** What only administrators see. */
export const schoolViews = {
  people: later(() => import('../school/SchoolView.tsx').then((m) => m.SchoolView)),
};

export const studentViews = {
  myWork: later(() => import('../work/MyWork.tsx').then((m) => m.MyWork)),
  work: later(() => import('../work/WorkCopy.tsx').then((m) => m.WorkCopy)),
  ownLog: later(() => import('../log/OwnLogView.tsx').then((m) => m.OwnLogView)),
};

export const teacherViews = {
  today: later(() => import('../today/Today.tsx').then((m) => m.Today)),
  pile: later(() => import('../pile/PileView.tsx').then((m) => m.PileView)),
  desk: later(() => import('../desk/Desk.tsx').then((m) => m.DeskRoute)),
  score: later(() => import('../score/ScoreView.tsx').then((m) => m.ScoreView)),
  scoreTable: later(() => import('../score-table/ScoreTable.tsx').then((m) => m.ScoreTable)),
  evenOut: later(() => import('../even-out/EvenOut.tsx').then((m) => m.EvenOut)),
  across: later(() => import('../across/AcrossView.tsx').then((m) => m.AcrossView)),
  classes: later(() => import('../register/Classes.tsx').then((m) => m.Classes)),
  markBook: later(() => import('../mark-book/MarkBookView.tsx').then((m) => m.MarkBookView)),
  classLook: later(() => import('../log/ClassLookView.tsx').then((m) => m.ClassLookView)),
  logs: later(() => import('../log/LogList.tsx').then((m) => m.LogList)),
  log: later(() => import('../log/LogView.tsx').then((m) => m.LogView)),
  talkSheet: later(() => import('../log/TalkSheet.tsx').then((m) => m.TalkSheet)),
  class: later(() => import('../register/ClassView.tsx').then((m) => m.ClassView)),
  assignment: later(() => import('../setting/AssignmentView.tsx').then((m) => m.AssignmentRoute)),
  post: later(() => import('../news/PostView.tsx').then((m) => m.PostView)),
  backPreview: later(() => import('../work/BackPreview.tsx').then((m) => m.BackPreview)),
  trial: later(() => import('../work/WorkCopy.tsx').then((m) => m.WorkCopy)),
  words: later(() => import('../conversation/WordsView.tsx').then((m) => m.WordsView)),
  room: later(() => import('../room/RoomView.tsx').then((m) => m.RoomView)),
  closeLook: later(() => import('../room/CloseLookView.tsx').then((m) => m.CloseLookView)),
  bank: later(() => import('../bank/BankView.tsx').then((m) => m.BankView)),
  rubrics: later(() => import('../rubrics/RubricList.tsx').then((m) => m.RubricList)),
  rubric: later(() => import('../rubrics/RubricMaker.tsx').then((m) => m.RubricMaker)),
  worksheets: later(() => import('../worksheets/WorksheetList.tsx').then((m) => m.WorksheetList)),
  worksheet: later(() => import('../worksheets/WorksheetMaker.tsx').then((m) => m.WorksheetRoute)),
};

import {
  type AssignmentId,
  type ClassId,
  type CopyId,
  type MailId,
  type MarkId,
  NewsChoices,
  NewsKind,
  type PersonId,
} from '@jotmark/core';
import {
  ascii,
  big,
  flag,
  id,
  int,
  jsonOf,
  long,
  maybe,
  moment,
  oneOf,
  primary,
  table,
  text,
} from '../columns.ts';

/** One thing that one person is told of. */
export interface NoticeRow {
  /** The database's own number. */
  seq: number;
  personId: PersonId;
  kind: NewsKind;
  at: number;
  assignmentId: AssignmentId | null;
  /** Of what is about no assignment: the class. */
  classId: ClassId | null;
  copyId: CopyId | null;
  /** The mark it is about; null: none. */
  markId: MarkId | null;
  /** Who did it; null: nobody in particular. Their name is read when it is shown: it may be hidden. */
  byId: PersonId | null;
  words: string;
  due: number | null;
  count: number;
  /** What is told once only; null: each time. */
  once: string | null;
  readAt: number | null;
  /** Somebody chose not to see this kind: it is told by letter at most. */
  hidden: boolean;
  /** The letter that tells of it; null: none does. */
  mailId: MailId | null;
}
export const NoticeTable = table<NoticeRow>(
  'notice',
  {
    seq: primary(big()),
    personId: id(),
    kind: oneOf(NewsKind, 20),
    at: moment(),
    assignmentId: maybe(id()),
    classId: maybe(id()),
    copyId: maybe(id()),
    markId: maybe(id()),
    byId: maybe(id()),
    words: text(300),
    due: maybe(moment()),
    count: int(),
    once: maybe(ascii(120)),
    readAt: maybe(moment()),
    hidden: flag(),
    mailId: maybe(id()),
  },
  { person: ['person', 'personId'] },
);

/** A letter to one person: written, waiting or gone. */
export interface MailRow {
  id: MailId;
  personId: PersonId;
  address: string;
  subject: string;
  /** Written when it goes, where it gathers a day's news. */
  body: string;
  daily: boolean;
  madeAt: number;
  notBefore: number;
  sentAt: number | null;
  tries: number;
  trouble: string | null;
}
export const MailTable = table<MailRow>(
  'mail',
  {
    id: primary(id()),
    personId: id(),
    address: text(254),
    subject: text(300),
    body: long(),
    daily: flag(),
    madeAt: moment(),
    notBefore: moment(),
    sentAt: maybe(moment()),
    tries: int(),
    trouble: maybe(text(300)),
  },
  { person: ['person', 'personId'] },
);

/** What somebody chose to be told of. */
export interface NewsChoiceRow {
  personId: PersonId;
  content: NewsChoices;
}
export const NewsChoiceTable = table<NewsChoiceRow>('news_choice', {
  personId: primary(id()),
  content: jsonOf(NewsChoices),
});

export const NEWS = [NoticeTable, MailTable, NewsChoiceTable];

import {
  type CopyId,
  type DocumentId,
  MessageAct,
  type MessageId,
  MessagePlace,
  type PersonId,
} from '@jotmark/core';
import { flag, id, jsonOf, maybe, moment, oneOf, primary, table, words } from '../columns.ts';

/** One word of the private conversation on a copy. */
export interface MessageRow {
  id: MessageId;
  copyId: CopyId;
  byId: PersonId;
  at: number;
  words: string;
  /** It travelled with a hand-in. */
  cover: boolean;
  place: MessagePlace | null;
  act: MessageAct | null;
  /** Its author changed its words; null: they did not. */
  editedAt: number | null;
  /** Its author withdrew it after it was read: its words are gone; null: it stands. */
  withdrawnAt: number | null;
}
export const MessageTable = table<MessageRow>(
  'message',
  {
    id: primary(id()),
    copyId: id(),
    byId: id(),
    at: moment(),
    words: words(),
    cover: flag(),
    place: maybe(jsonOf(MessagePlace)),
    act: maybe(oneOf(MessageAct, 12)),
    editedAt: maybe(moment()),
    withdrawnAt: maybe(moment()),
  },
  { copy: ['copy', 'copyId'], by: ['person', 'byId'] },
);

/** Up to when somebody has read it. */
export interface MessageReadRow {
  copyId: CopyId;
  personId: PersonId;
  at: number;
}
export const MessageReadTable = table<MessageReadRow>('message_read', {
  copyId: primary(id()),
  personId: primary(id()),
  at: moment(),
});

/** A file beside words that were given to the students of a copy: from then on they see it. */
export interface HelpFileRow {
  documentId: DocumentId;
  copyId: CopyId;
}
export const HelpFileTable = table<HelpFileRow>('help_file', {
  documentId: primary(id()),
  copyId: primary(id()),
});

export const CONVERSATION = [MessageTable, MessageReadTable, HelpFileTable];

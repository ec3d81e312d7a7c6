import type { HandInId, PersonId, PhraseId } from '@jotmark/core';
import { id, int, maybe, moment, primary, table, text, words } from '../columns.ts';

/** A comment that a teacher keeps to be used again. */
export interface PhraseRow {
  id: PhraseId;
  ownerId: PersonId;
  words: string;
  /** The group it lies in; empty: none. */
  inGroup: string;
  focus: string | null;
  uses: number;
  usedAt: number | null;
  createdAt: number;
}
export const PhraseTable = table<PhraseRow>(
  'phrase',
  {
    id: primary(id()),
    ownerId: id(),
    words: words(),
    inGroup: text(60),
    focus: maybe(text(40)),
    uses: int(),
    usedAt: maybe(moment()),
    createdAt: moment(),
  },
  { owner: ['person', 'ownerId'] },
);

/** One use of a phrase in a copy. */
export interface PhraseUseRow {
  id: string;
  phraseId: PhraseId;
  handInId: HandInId;
  at: number;
}
export const PhraseUseTable = table<PhraseUseRow>(
  'phrase_use',
  { id: primary(id()), phraseId: id(), handInId: id(), at: moment() },
  { phrase: ['phrase', 'phraseId'], handIn: ['hand_in', 'handInId'] },
);

export const BANK = [PhraseTable, PhraseUseTable];

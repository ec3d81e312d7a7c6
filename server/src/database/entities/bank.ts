import {
  FavouriteKey,
  type HandInId,
  InkColour,
  type MarkId,
  type PersonId,
  type PhraseId,
  PhraseInk,
  QuestionId,
} from '@jotmark/core';
import * as z from 'zod';
import { id, int, jsonOf, maybe, moment, oneOf, primary, table, text, words } from '../columns.ts';

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
  points: number | null;
  colour: InkColour | null;
  favKey: FavouriteKey | null;
  ink: PhraseInk | null;
  /** The questions it was last used at, the newest first; null: at none. */
  asked: QuestionId[] | null;
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
    points: maybe(int()),
    colour: maybe(oneOf(InkColour, 12)),
    favKey: maybe(oneOf(FavouriteKey, 1)),
    ink: maybe(jsonOf(PhraseInk)),
    asked: maybe(jsonOf(z.array(QuestionId))),
  },
  { owner: ['person', 'ownerId'] },
);

/** One use of a phrase in a copy. */
export interface PhraseUseRow {
  id: string;
  phraseId: PhraseId;
  handInId: HandInId;
  at: number;
  /** The mark that was made with it; null: it is not known. */
  markId: MarkId | null;
}
export const PhraseUseTable = table<PhraseUseRow>(
  'phrase_use',
  { id: primary(id()), phraseId: id(), handInId: id(), at: moment(), markId: maybe(id()) },
  { phrase: ['phrase', 'phraseId'], handIn: ['hand_in', 'handInId'] },
);

/** Where a group stands among the others of its bank. */
export interface PhraseGroupRow {
  ownerId: PersonId;
  name: string;
  position: number;
}
export const PhraseGroupTable = table<PhraseGroupRow>(
  'phrase_group',
  { ownerId: primary(id()), name: primary(text(60)), position: int() },
  { owner: ['person', 'ownerId'] },
);

/** How often a bank was changed: by it others hear that it is another. */
export interface BankRow {
  ownerId: PersonId;
  seq: number;
}
export const BankTable = table<BankRow>(
  'bank',
  { ownerId: primary(id()), seq: int() },
  { owner: ['person', 'ownerId'] },
);

export const BANK = [PhraseTable, PhraseUseTable, PhraseGroupTable, BankTable];

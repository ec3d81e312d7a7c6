import {
  BATCH_LIMIT,
  type Change,
  type CopyId,
  Digest,
  HandBackId,
  HandInId,
  MarkId,
  MESSAGE_LIMIT,
  MessageAct,
  MessageId,
  MessagePlace,
  PhraseId,
  PhraseInput,
  QuestionId,
} from '@jotmark/core';
import * as z from 'zod';
import { readKept } from './read-kept.ts';

/** A copy that is handed in as it stands when all before it in its lane has gone. */
export const HandInLetter = z.object({
  type: z.literal('hand-in'),
  id: HandInId,
  cover: z.string().max(MESSAGE_LIMIT),
  /** When it was pressed, by the clock of this device. */
  claimedAt: z.number(),
});
export type HandInLetter = z.infer<typeof HandInLetter>;

/** Words said on a copy. */
export const WordLetter = z.object({
  type: z.literal('word'),
  id: MessageId,
  words: z.string().max(MESSAGE_LIMIT),
  place: MessagePlace.nullable(),
  act: MessageAct.nullable().optional(),
});
export type WordLetter = z.infer<typeof WordLetter>;

/** How far a student has heard what was handed back. */
export const HeardLetter = z.object({
  type: z.literal('heard'),
  id: MessageId,
  handBackId: HandBackId,
  file: Digest,
  reached: z.number(),
  left: z.number(),
});
export type HeardLetter = z.infer<typeof HeardLetter>;
/** Notes of what was handed back that a student opened. */
export const OpenedLetter = z.object({
  type: z.literal('opened'),
  id: MessageId,
  handBackId: HandBackId,
  marks: z.array(MarkId),
});
export type OpenedLetter = z.infer<typeof OpenedLetter>;
/** What was heard and opened has a lane of its own: nothing waits for it. */
export const HEARD_LANE = 'heard';

/** A phrase kept in the bank, new or changed. */
export const PhraseLetter = z.object({ type: z.literal('phrase'), id: MessageId, phrase: PhraseInput });
export type PhraseLetter = z.infer<typeof PhraseLetter>;

/** A phrase that was put into a copy. */
export const PhraseUseLetter = z.object({
  type: z.literal('phrase-use'),
  id: MessageId,
  phraseId: PhraseId,
  handInId: HandInId,
  markId: MarkId.nullable(),
  questionId: QuestionId.nullable(),
});
export type PhraseUseLetter = z.infer<typeof PhraseUseLetter>;
export type BankLetter = PhraseLetter | PhraseUseLetter;
/** What is done with one's bank has a lane of its own. */
export const BANK_LANE = 'bank';

/** Whatever is kept before it is sent. Its id is made here and makes it count once, however often it is sent. */
export type Letter = Change | HandInLetter | WordLetter | BankLetter | HeardLetter | OpenedLetter;

/**
 * Letters of one lane are sent in order, one lane knows nothing of another: the changes of a marking (the hand-in's id), those of a student's
 * copy and its hand-in behind them (the copy's id), what is said on a copy.
 */
export type LaneId = string;
export const wordsLane = (copyId: CopyId): LaneId => `words:${copyId}`;
export const copyOfWords = (lane: LaneId): CopyId | null =>
  lane.startsWith('words:') ? (lane.slice('words:'.length) as CopyId) : null;

const Other = z.discriminatedUnion('type', [
  HandInLetter,
  WordLetter,
  PhraseLetter,
  PhraseUseLetter,
  HeardLetter,
  OpenedLetter,
]);

/** A letter as this browser kept it, by whatever version; null for one that cannot be read: it stays where it is. */
export function readLetter(raw: unknown): Letter | null {
  const other = Other.safeParse(raw);
  return other.success ? other.data : readKept(raw);
}

const OTHERS: ReadonlySet<string> = new Set([
  'hand-in',
  'word',
  'phrase',
  'phrase-use',
  'heard',
  'opened',
] satisfies Exclude<Letter, Change>['type'][]);
export const isChange = (letter: Letter): letter is Change => !OTHERS.has(letter.type);

/** What goes in one request: a batch of changes, or one of anything else. */
export function nextBatch(waiting: readonly Letter[]): readonly Letter[] {
  const changes = waiting.findIndex((l) => !isChange(l));
  const upTo = changes < 0 ? waiting.length : changes;
  return waiting.slice(0, Math.max(1, Math.min(upTo, BATCH_LIMIT)));
}

import * as z from 'zod';
import { PhraseId, QuestionId } from '../ids/id.ts';
import { InkColour } from '../pens/ink-colour.ts';
import { MAX_POINTS } from '../points/points.ts';
import { PhraseInk } from './ink.ts';

/** No bank holds more phrases. */
export const MOST_PHRASES = 5000;
export const PHRASE_LIMIT = 4000;

const words = z.string().trim().min(1).max(PHRASE_LIMIT);

export const GroupName = z.string().trim().max(60);
/** No bank has more groups than this beside each other. */
export const MOST_GROUPS = 200;
/** The keys of favourites: with Alt, each takes its phrase at once. */
export const FAVOURITE_KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9'] as const;
export const FavouriteKey = z.enum(FAVOURITE_KEYS);
export type FavouriteKey = z.infer<typeof FavouriteKey>;

/** What a phrase says, and what a comment with it is like. A link stands in its words. */
const said = {
  words,
  /** The group it lies in; empty: none. */
  group: GroupName,
  /** What a comment with it is about; null: nothing said. */
  focus: z.string().trim().min(1).max(40).nullable(),
  /** What is earned with it, in hundredths; null: nothing is said. */
  points: z.int().min(-MAX_POINTS).max(MAX_POINTS).nullable(),
  /** The ink it is written with; null: whichever is in hand. */
  colour: InkColour.nullable(),
  /** The key it is a favourite under; null: it is none. Two phrases never have one key. */
  key: FavouriteKey.nullable(),
  /** Written by hand: then its strokes are put down, and its words are what it is found by. Null: it is its words. */
  ink: PhraseInk.nullable().default(null),
};
export const PhraseSaid = z.object(said);
export type PhraseSaid = z.infer<typeof PhraseSaid>;

/** A phrase as its teacher writes it. */
export const PhraseInput = z.object({ id: PhraseId, ...said });
export type PhraseInput = z.infer<typeof PhraseInput>;

/** A phrase in the bank, and how it has been used. */
export const Phrase = z.object({
  ...PhraseInput.shape,
  /** How often it was put into a copy. */
  uses: z.int().min(0),
  /** When last; null: never. */
  usedAt: z.int().nullable(),
  /** The questions it was last used at, the newest first. */
  asked: z.array(QuestionId),
});
export type Phrase = z.infer<typeof Phrase>;
/** So many questions are remembered of a phrase. */
export const MOST_ASKED = 12;

/** A whole bank. */
export const BankShape = z.object({
  /** Goes up with every change of the bank. */
  seq: z.int(),
  phrases: z.array(Phrase),
  /** Groups in the order their teacher gave them; others follow in the order of their first phrases. */
  groups: z.array(GroupName),
});
export type BankShape = z.infer<typeof BankShape>;

/** All groups of a bank in order, each once; phrases of none are not among them. */
export const groupsOf = ({
  phrases,
  groups,
}: {
  readonly phrases: readonly Phrase[];
  readonly groups: readonly string[];
}): string[] => [
  ...new Set([
    ...groups.filter((g) => phrases.some((p) => p.group === g)),
    ...phrases.map((p) => p.group).filter(Boolean),
  ]),
];

/** A phrase that only says something: nothing else of it is known. */
export const plainPhrase = (id: PhraseId, words: string, more: Partial<PhraseSaid> = {}): PhraseInput => ({
  id,
  words,
  group: '',
  focus: null,
  points: null,
  colour: null,
  key: null,
  ink: null,
  ...more,
});

export interface PastedPhrase {
  readonly words: string;
  readonly group: string;
}

/** A pasted list: one phrase a line; a line that ends with a colon begins a group; signs of a list before a phrase are left away. */
export function phrasesIn(text: string, group = ''): PastedPhrase[] {
  const out: PastedPhrase[] = [];
  let at = group;
  for (const raw of text.split(/\r?\n/)) {
    const line = raw.replace(/^\s*(?:[-*•▪–]|\d{1,3}[.)])\s+/, '').trim();
    if (line === '') continue;
    if (/^[^.!?]{1,60}:$/.test(line)) at = line.slice(0, -1).trim();
    else out.push({ words: line.slice(0, PHRASE_LIMIT), group: at });
  }
  return out;
}

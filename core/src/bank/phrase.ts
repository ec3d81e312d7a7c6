import * as z from 'zod';
import { PhraseId } from '../ids/id.ts';

/** No bank holds more phrases. */
export const MOST_PHRASES = 5000;
export const PHRASE_LIMIT = 4000;

const words = z.string().trim().min(1).max(PHRASE_LIMIT);

/** A phrase as its teacher writes it. */
export const PhraseInput = z.object({
  id: PhraseId,
  words,
  /** The group it lies in; empty: none. */
  group: z.string().trim().max(60),
  /** What a comment with it is about; null: nothing said. */
  focus: z.string().trim().min(1).max(40).nullable(),
});
export type PhraseInput = z.infer<typeof PhraseInput>;

/** A phrase in the bank, and how it has been used. */
export const Phrase = z.object({
  ...PhraseInput.shape,
  /** How often it was put into a copy. */
  uses: z.int().min(0),
  /** When last; null: never. */
  usedAt: z.int().nullable(),
});
export type Phrase = z.infer<typeof Phrase>;

/** What a blank in a phrase stands for. */
export interface Blanks {
  /** The student's first name. */
  readonly name: string;
  /** The words the comment is about. */
  readonly words: string | null;
}

const BLANKS: Readonly<Record<string, (b: Blanks) => string | null>> = {
  name: (b) => b.name,
  words: (b) => (b.words === null ? null : `“${b.words}”`),
};

/** The words of a phrase with its blanks filled: `[name]`, `[words]`. What is not known stays as it is, to be filled by hand. */
export const fillPhrase = (phrase: string, blanks: Blanks): string =>
  phrase.replace(/\[(name|words)\]/g, (blank, kind: string) => BLANKS[kind]!(blanks) ?? blank);

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

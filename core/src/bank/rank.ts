import type { QuestionId } from '../ids/id.ts';
import type { Phrase } from './phrase.ts';

/** What is known where a phrase is looked for. */
export interface Where {
  /** What the comment is about. */
  readonly focus: string | null;
  /** The question it stands at. Left out or null: at none that is known. */
  readonly question?: QuestionId | null;
  readonly now: number;
}

/** In how many days what was used last counts half. */
const HALF_DAYS = 14;
const DAY_MS = 86_400_000;
/** What each thing counts beside a word that is matched whole, which counts 1. */
const COUNTS = { begun: 0.8, slip: 0.5, focus: 0.6, here: 0.5, recent: 0.35, often: 0.05 } as const;
/** From so many letters on a slip of one is forgiven, and of two. */
const FORGIVES = [4, 8] as const;

/** Letters and digits only, small, without accents. */
export const tokensOf = (text: string): string[] =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/**
 * Letters to change, add, take away or swap with their neighbour to make one word of the other; anything above `most` is `most` + 1
 * (optimal string alignment: Damerau 1964, Wagner and Fischer 1974, in a band).
 */
export function slipsBetween(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  let before: number[] = [];
  let leastBefore = 0;
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    let least = i;
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      let cost = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        cost = Math.min(cost, before[j - 2]! + 1);
      next.push(cost);
      if (cost < least) least = cost;
    }
    // Two letters that are swapped go back by two rows, for one slip.
    if (least > most && leastBefore + 1 > most) return most + 1;
    leastBefore = least;
    before = row;
    row = next;
  }
  return Math.min(row[b.length]!, most + 1);
}

/** A word of the bank: its letters as bits, and in which phrases it stands. */
interface Token {
  readonly text: string;
  readonly letters: number;
  readonly phrases: number[];
}

/** Which of 32 kinds of letters a word has: two words that differ in more kinds than slips are forgiven need not be compared. */
function lettersOf(word: string): number {
  let bits = 0;
  for (let i = 0; i < word.length; i++) bits |= 1 << (word.charCodeAt(i) & 31);
  return bits;
}

function bitsIn(bits: number): number {
  let n = 0;
  for (let left = bits; left !== 0; left &= left - 1) n++;
  return n;
}

const forgiven = (typed: string): number =>
  typed.length >= FORGIVES[1] ? 2 : typed.length >= FORGIVES[0] ? 1 : 0;

/** How well a typed word fits one of the bank, 0…1: whole, begun, or begun with a slip. `letters` and `most` are the typed word's. */
function fits(typed: string, letters: number, most: number, token: Token): number {
  const { text } = token;
  if (text.startsWith(typed)) return text.length === typed.length ? 1 : COUNTS.begun;
  if (most === 0 || bitsIn(letters & ~token.letters) > most) return 0;
  // What is being typed is compared with as much of the word.
  for (const length of [typed.length, typed.length + 1, typed.length - 1]) {
    const begun = text.slice(0, length);
    if (begun.length >= typed.length - most && slipsBetween(typed, begun, most) <= most) return COUNTS.slip;
  }
  return 0;
}

/** So many typed words are remembered: while one types, all but the last stay as they are. */
const REMEMBERED = 16;

/** A bank to be looked through with every key: its words are taken apart once, and each word of it is looked at once, in however many phrases it stands. */
export class PhraseIndex {
  readonly #phrases: readonly Phrase[];
  readonly #tokens: readonly Token[];
  readonly #fits = new Map<string, Float32Array>();

  constructor(phrases: readonly Phrase[]) {
    this.#phrases = phrases;
    const tokens = new Map<string, Token>();
    phrases.forEach((phrase, i) => {
      for (const text of new Set(tokensOf(phrase.words))) {
        const token = tokens.get(text) ?? { text, letters: lettersOf(text), phrases: [] };
        token.phrases.push(i);
        tokens.set(text, token);
      }
    });
    this.#tokens = [...tokens.values()];
  }

  /**
   * The phrases that every typed word fits, in any order, slips forgiven; the best first: by how well they fit, whether they are about the same, whether they
   * were used at this question, how lately and how often. Nothing typed: those one would most likely want. Equal ones stay in the order of the bank.
   */
  find(typed: string, where: Where, most: number): Phrase[] {
    const wanted = tokensOf(typed);
    const fitting = wanted.map((word) => this.#fitsOf(word));
    const found: { phrase: Phrase; score: number }[] = [];
    this.#phrases.forEach((phrase, i) => {
      let fit = 0;
      for (const each of fitting) {
        if (each[i] === 0) return;
        fit += each[i]!;
      }
      found.push({ phrase, score: fit / Math.max(1, wanted.length) + likely(phrase, where) });
    });
    return found
      .sort((a, b) => b.score - a.score)
      .slice(0, most)
      .map((f) => f.phrase);
  }

  /** How well the best word of each phrase fits a typed one. */
  #fitsOf(typed: string): Float32Array {
    const known = this.#fits.get(typed);
    if (known) return known;
    const best = new Float32Array(this.#phrases.length);
    const letters = lettersOf(typed);
    const most = forgiven(typed);
    for (const token of this.#tokens) {
      const fit = fits(typed, letters, most, token);
      if (fit > 0) for (const i of token.phrases) if (fit > best[i]!) best[i] = fit;
    }
    this.#fits.set(typed, best);
    for (const old of this.#fits.keys()) {
      if (this.#fits.size <= REMEMBERED) break;
      this.#fits.delete(old);
    }
    return best;
  }
}

function likely(phrase: Phrase, { focus, question, now }: Where): number {
  const about = focus !== null && phrase.focus === focus ? COUNTS.focus : 0;
  const here = question && phrase.asked.includes(question) ? COUNTS.here : 0;
  const days = phrase.usedAt === null ? Infinity : Math.max(0, now - phrase.usedAt) / DAY_MS;
  return about + here + COUNTS.recent * 2 ** (-days / HALF_DAYS) + COUNTS.often * Math.log2(1 + phrase.uses);
}

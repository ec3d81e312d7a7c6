import type { Phrase } from './phrase.ts';

/** What is known where a phrase is looked for. */
export interface Where {
  /** What the comment is about. */
  readonly focus: string | null;
  readonly now: number;
}

interface Entry {
  readonly phrase: Phrase;
  readonly tokens: readonly string[];
}

/** In how many days what was used last counts half. */
const HALF_DAYS = 14;
const DAY_MS = 86_400_000;
/** What each thing counts beside a word that is matched whole, which counts 1. */
const COUNTS = { begun: 0.8, slip: 0.5, focus: 0.6, recent: 0.35, often: 0.05 } as const;
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
    if (least > most) return most + 1;
    before = row;
    row = next;
  }
  return row[b.length]!;
}

/** How well a typed word fits one of a phrase, 0…1: whole, begun, or begun with a slip. */
function fits(typed: string, token: string): number {
  if (token === typed) return 1;
  if (token.startsWith(typed)) return COUNTS.begun;
  const most = typed.length >= FORGIVES[1] ? 2 : typed.length >= FORGIVES[0] ? 1 : 0;
  if (most === 0) return 0;
  // What is being typed is compared with as much of the word.
  for (const length of [typed.length, typed.length + 1, typed.length - 1]) {
    const begun = token.slice(0, length);
    if (begun.length >= typed.length - most && slipsBetween(typed, begun, most) <= most) return COUNTS.slip;
  }
  return 0;
}

/** A bank to be looked through with every key: its words are taken apart once. */
export class PhraseIndex {
  readonly #entries: readonly Entry[];

  constructor(phrases: readonly Phrase[]) {
    this.#entries = phrases.map((phrase) => ({ phrase, tokens: tokensOf(phrase.words) }));
  }

  /**
   * The phrases that every typed word fits, in any order, slips forgiven; the best first: by how well they fit, whether they are about the same, how lately
   * and how often they were used. Nothing typed: those one would most likely want. Equal ones stay in the order of the bank.
   */
  find(typed: string, where: Where, most: number): Phrase[] {
    const wanted = tokensOf(typed);
    const found: { phrase: Phrase; score: number }[] = [];
    for (const { phrase, tokens } of this.#entries) {
      let fit = 0;
      let all = true;
      for (const word of wanted) {
        let best = 0;
        for (const token of tokens) {
          const f = fits(word, token);
          if (f > best) best = f;
          if (best === 1) break;
        }
        if (best === 0) {
          all = false;
          break;
        }
        fit += best;
      }
      if (!all) continue;
      found.push({ phrase, score: fit / Math.max(1, wanted.length) + likely(phrase, where) });
    }
    return found
      .sort((a, b) => b.score - a.score)
      .slice(0, most)
      .map((f) => f.phrase);
  }
}

function likely(phrase: Phrase, { focus, now }: Where): number {
  const about = focus !== null && phrase.focus === focus ? COUNTS.focus : 0;
  const days = phrase.usedAt === null ? Infinity : Math.max(0, now - phrase.usedAt) / DAY_MS;
  return about + COUNTS.recent * 2 ** (-days / HALF_DAYS) + COUNTS.often * Math.log2(1 + phrase.uses);
}

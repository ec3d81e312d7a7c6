import { normalAnswer } from './normal.ts';

/** Answers that are the same after case, spaces, number format and unit. */
export interface AnswerGroup<T> {
  /** What they are the same as; empty: nothing was written. */
  readonly normal: string;
  /** As most of them wrote it. */
  readonly shown: string;
  readonly answers: readonly T[];
  /** The larger group that it is similar to, beside which it stands; null: it stands for itself. */
  readonly near: string | null;
}

/** So much of their pairs of letters do two similar answers share (L. R. Dice, 1945), at least. */
export const SIMILAR = 0.7;

/**
 * Puts like answers together: first those that are equal, the largest group first, those who wrote nothing last; similar ones right behind the
 * group they are similar to.
 */
export function groupAnswers<T>(
  answers: readonly T[],
  text: (answer: T) => string,
  unit = '',
): AnswerGroup<T>[] {
  const byNormal = new Map<string, T[]>();
  for (const answer of answers) {
    const normal = normalAnswer(text(answer), unit);
    const group = byNormal.get(normal);
    if (group) group.push(answer);
    else byNormal.set(normal, [answer]);
  }
  const groups = [...byNormal]
    .map(([normal, all]) => ({ normal, answers: all, shown: mostWritten(all.map(text)), near: null }))
    .sort((a, b) => Number(a.normal === '') - Number(b.normal === '') || b.answers.length - a.answers.length);
  return besideSimilar(groups);
}

function besideSimilar<T>(groups: readonly AnswerGroup<T>[]): AnswerGroup<T>[] {
  const heads: {
    group: AnswerGroup<T>;
    pairs: ReadonlyMap<string, number>;
    count: number;
    beside: AnswerGroup<T>[];
  }[] = [];
  for (const group of groups) {
    const pairs = pairsOf(group.normal);
    const count = Math.max(0, group.normal.length - 1);
    const head = group.normal === '' ? undefined : heads.find((h) => alike(h, pairs, count) >= SIMILAR);
    // Numbers that differ are different answers, however similar they look.
    if (head && sameNumbers(head.group.normal, group.normal))
      head.beside.push({ ...group, near: head.group.normal });
    else heads.push({ group, pairs, count, beside: [] });
  }
  return heads.flatMap((h) => [h.group, ...h.beside]);
}

function alike(
  head: { readonly pairs: ReadonlyMap<string, number>; readonly count: number },
  pairs: ReadonlyMap<string, number>,
  count: number,
): number {
  const all = head.count + count;
  // What is much longer cannot share enough.
  if (all === 0 || (2 * Math.min(head.count, count)) / all < SIMILAR) return 0;
  let shared = 0;
  for (const [pair, n] of pairs) shared += Math.min(n, head.pairs.get(pair) ?? 0);
  return (2 * shared) / all;
}

const NUMBERS = /\d+(?:\.\d+)?/g;
const sameNumbers = (a: string, b: string): boolean =>
  (a.match(NUMBERS) ?? []).join() === (b.match(NUMBERS) ?? []).join();

/** Pairs of neighbouring letters, with how often each is there. */
function pairsOf(text: string): ReadonlyMap<string, number> {
  const pairs = new Map<string, number>();
  for (let i = 0; i < text.length - 1; i++) {
    const pair = text.slice(i, i + 2);
    pairs.set(pair, (pairs.get(pair) ?? 0) + 1);
  }
  return pairs;
}

function mostWritten(texts: readonly string[]): string {
  const counts = new Map<string, number>();
  for (const t of texts) counts.set(t.trim(), (counts.get(t.trim()) ?? 0) + 1);
  return [...counts].reduce((best, one) => (one[1] > best[1] ? one : best))[0];
}

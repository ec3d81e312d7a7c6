import { type Fraction, fraction, plus, roundTo, times } from '../grade/fraction.ts';
import { type BookRule, weightOf } from './rule.ts';

/** One piece of work of a student, as far as a total asks. */
export interface BookEntry {
  readonly category: string;
  /** The most it can earn, in hundredths; null: it has no grade. */
  readonly most: number | null;
  /** What was earned, in hundredths; null: nothing is entered. */
  readonly grade: number | null;
  /** Nothing is asked of this student. */
  readonly excused: boolean;
  /** Its date is past, and nothing came in. */
  readonly missing: boolean;
}

/** What a category comes to. */
export interface BookPart {
  readonly category: string;
  readonly weight: number;
  /** Pieces of work that count in it. */
  readonly count: number;
  /** In hundredths of a percent, to be shown. */
  readonly percent: number;
}

export interface BookTotal {
  /** In hundredths of a percent; null: nothing counts yet. */
  readonly percent: number | null;
  readonly parts: readonly BookPart[];
  /** Work that was missing and counts as nothing. */
  readonly zeros: number;
}

const HUNDRED = fraction(10_000);

/** Of each piece that counts: what was earned of what. */
function counted(entry: BookEntry, rule: BookRule): { earned: number; most: number } | null {
  const { most, grade } = entry;
  if (most === null || most === 0 || entry.excused) return null;
  if (grade !== null) return { earned: grade, most };
  return entry.missing && rule.missing === 'zero' ? { earned: 0, most } : null;
}

/**
 * What a student's work comes to by the rule: within a category points are added up, or each piece counts the same; categories count by their weights. Exact,
 * rounded once at the end, halves up. Excused work and what has no grade is left out; so is a category in which nothing counts yet.
 */
export function bookTotal(entries: readonly BookEntry[], rule: BookRule): BookTotal {
  const byCategory = new Map<string, { earned: number; most: number }[]>();
  let zeros = 0;
  for (const entry of entries) {
    const piece = counted(entry, rule);
    if (!piece) continue;
    if (entry.grade === null) zeros++;
    byCategory.set(entry.category, [...(byCategory.get(entry.category) ?? []), piece]);
  }
  let sum = fraction(0);
  let weights = 0;
  const parts: BookPart[] = [];
  for (const [category, pieces] of [...byCategory].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const share = shareOf(pieces, rule.within);
    const weight = weightOf(rule, category);
    parts.push({
      category,
      weight,
      count: pieces.length,
      percent: roundTo(times(share, HUNDRED), 1, 'nearest'),
    });
    sum = plus(sum, times(share, fraction(weight)));
    weights += weight;
  }
  const percent =
    weights === 0 ? null : roundTo(times(times(sum, HUNDRED), fraction(1, weights)), 1, 'nearest');
  return { percent, parts, zeros };
}

/** What was earned, as a part of 1. */
function shareOf(pieces: readonly { earned: number; most: number }[], within: BookRule['within']): Fraction {
  if (within === 'points')
    return fraction(
      pieces.reduce((n, p) => n + p.earned, 0),
      pieces.reduce((n, p) => n + p.most, 0),
    );
  const sum = pieces.reduce((n, p) => plus(n, fraction(p.earned, p.most)), fraction(0));
  return times(sum, fraction(1, pieces.length));
}

/** The rule in a sentence, as a teacher would say it. */
export function ruleWords(rule: BookRule, categories: readonly string[]): string {
  const named = categories.map((c) => `${c || 'other work'} ${weightOf(rule, c)}`);
  const weights =
    new Set(categories.map((c) => weightOf(rule, c))).size > 1 ? `Counts: ${named.join(', ')}. ` : '';
  const within =
    rule.within === 'points'
      ? 'Points are added up within each kind of work. '
      : 'Each piece of work counts the same within its kind. ';
  return `${weights}${within}${rule.missing === 'zero' ? 'Missing work counts 0.' : 'Missing work is left out.'}`;
}

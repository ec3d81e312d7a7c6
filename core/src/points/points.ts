/**
 * Points are exact: whole hundredths as integers, never binary fractions. 8½ points are 850.
 */
export type Hundredths = number;

/** Most points an assignment can have. */
export const MAX_POINTS: Hundredths = 1_000_000;

export type ParsedPoints =
  | { readonly ok: true; readonly value: Hundredths }
  | {
      readonly ok: false;
      readonly reason: 'empty' | 'not-a-number' | 'negative' | 'too-fine' | 'above-most';
    };

const FRACTIONS: Readonly<Record<string, number>> = { '½': 50, '¼': 25, '¾': 75 };

/**
 * Reads points as a teacher types them: "8", "8.5", "8,5", "8½", "½". `most` is the most that can be earned,
 * in hundredths. More than two decimals are too fine, since they could not be kept exactly.
 */
export function parsePoints(input: string, most: Hundredths = MAX_POINTS): ParsedPoints {
  const text = input.trim();
  if (text === '') return { ok: false, reason: 'empty' };
  if (/^[-−–]\s*[\d.,½¼¾]+$/.test(text)) return { ok: false, reason: 'negative' };
  const match = /^(\d{0,9})(?:[.,](\d+)|([½¼¾]))?$/.exec(text);
  if (!match || (match[1] === '' && match[2] === undefined && match[3] === undefined))
    return { ok: false, reason: 'not-a-number' };
  const decimals = match[2]?.replace(/0+$/, '') ?? '';
  if (decimals.length > 2) return { ok: false, reason: 'too-fine' };
  const value =
    Number(match[1] || '0') * 100 +
    (match[3] ? FRACTIONS[match[3]]! : Number(decimals.padEnd(2, '0') || '0'));
  return value > most ? { ok: false, reason: 'above-most' } : { ok: true, value };
}

/** As it is read in a column: "8", "8½", "7.25". `parsePoints` reads it back to the same value. */
export function formatPoints(value: Hundredths): string {
  const whole = Math.floor(value / 100);
  const rest = value % 100;
  if (rest === 0) return String(whole);
  const sign = Object.entries(FRACTIONS).find(([, v]) => v === rest)?.[0];
  if (sign) return whole === 0 ? sign : `${whole}${sign}`;
  return `${whole}.${String(rest).padStart(2, '0').replace(/0$/, '')}`;
}

const MINUS = /^[-−–]\s*/;

/** The same with a minus before points that are taken off; null where it is no number of points. */
export function parseSigned(input: string): Hundredths | null {
  const text = input.trim();
  const read = parsePoints(text.replace(MINUS, '').replace(/^\+\s*/, ''));
  if (!read.ok) return null;
  return MINUS.test(text) && read.value !== 0 ? -read.value : read.value;
}

/** As it stands beside words: "+1", "−½". `parseSigned` reads it back to the same value. */
export const formatSigned = (value: Hundredths): string =>
  value < 0 ? `−${formatPoints(-value)}` : `+${formatPoints(value)}`;

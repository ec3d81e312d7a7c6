import { formatPoints, parseGrade, parsePoints, type Scale } from '@jotmark/core';
import type { Read } from './PointsField.tsx';

const WHY_NOT = {
  'not-a-number': 'That is not a number. Write it like 8, 8.5 or 8½.',
  negative: 'It cannot be below 0.',
  'too-fine': 'At most two decimals.',
} as const;

/** Points of something that can earn so many; empty: none. */
export function readPoints(text: string, most: number): Read {
  const read = parsePoints(text, most);
  if (read.ok) return read;
  if (read.reason === 'empty') return { ok: true, value: null };
  return {
    ok: false,
    why:
      read.reason === 'above-most'
        ? `More than the ${formatPoints(most)} that can be earned.`
        : WHY_NOT[read.reason],
  };
}

/** A grade by the scale of its assignment; empty: none. */
export function readGrade(text: string, most: number, scale: Scale): Read {
  const read = parseGrade(text, most, scale);
  if (read.ok) return read;
  switch (read.reason) {
    case 'empty':
      return { ok: true, value: null };
    case 'above-most':
      return {
        ok: false,
        why:
          scale.kind === 'percent'
            ? 'More than 100 % cannot be earned.'
            : `More than the ${formatPoints(most)} that can be earned.`,
      };
    case 'no-such-word':
      return {
        ok: false,
        why:
          scale.kind === 'table'
            ? `This scale has ${scale.rows.map((r) => r.label).join(', ')}.`
            : 'Write Done or Not yet.',
      };
    default:
      return { ok: false, why: WHY_NOT[read.reason] };
  }
}

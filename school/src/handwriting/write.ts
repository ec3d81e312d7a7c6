import type { Chance } from '../chance.ts';
import { GLYPHS } from './glyphs.ts';

/** How one student writes. */
export interface Hand {
  /** Height of small letters in points. */
  readonly size: number;
  /** Rightward lean, horizontal per vertical. */
  readonly slant: number;
  /** How unsteady, 0…1. */
  readonly shake: number;
  readonly spacing: number;
}

export function handOf(chance: Chance): Hand {
  return {
    size: chance.between(5, 6.4),
    slant: chance.between(-0.05, 0.32),
    shake: chance.between(0.08, 0.34),
    spacing: chance.between(0.9, 1.4),
  };
}

export type Stroke = readonly (readonly [x: number, y: number])[];

const letter = (char: string) =>
  GLYPHS.get(char) ??
  GLYPHS.get(char.normalize('NFD')[0]!) ??
  GLYPHS.get({ '’': "'", '–': '-', '×': 'x', Þ: 'P', ł: 'l' }[char] ?? '.')!;

/** Width of a word in points, without shaking. */
export function wordWidth(hand: Hand, word: string): number {
  return ([...word].reduce((w, c) => w + letter(c).width + hand.spacing, 0) * hand.size) / 5;
}

/**
 * Writes text in lines from (x, y), y down, wrapping at `width`; each line `leading` below the one before. Gives the pen's
 * strokes in points and how many lines were used.
 */
export function write(
  chance: Chance,
  hand: Hand,
  text: string,
  x: number,
  y: number,
  width: number,
  leading: number,
): { strokes: Stroke[]; lines: number } {
  const unit = hand.size / 5;
  const strokes: Stroke[] = [];
  let cx = x + chance.between(0, 4);
  let line = 0;
  for (const word of text.split(/\s+/)) {
    if (cx > x + 6 && cx + wordWidth(hand, word) > x + width) {
      cx = x + chance.between(0, 5);
      line++;
    }
    const drift = chance.between(-0.5, 0.5) * hand.shake * 3;
    for (const char of word) {
      const glyph = letter(char);
      const wobble = () => chance.between(-0.5, 0.5) * hand.shake;
      for (const drawn of glyph.strokes) {
        const points = drawn.map(([gx, gy]): [number, number] => {
          const px = gx + wobble();
          const py = gy + wobble();
          return [cx + (px + py * hand.slant) * unit, y + line * leading + drift - py * unit];
        });
        strokes.push(smooth(points));
      }
      cx += (glyph.width + hand.spacing) * unit;
    }
    cx += chance.between(3, 4.4) * unit;
  }
  return { strokes, lines: line + 1 };
}

/** Points on a Catmull-Rom curve through those given, four for each leg. */
export function smooth(points: readonly [number, number][]): [number, number][] {
  if (points.length < 3) return points.slice();
  const at = (i: number) => points[Math.min(points.length - 1, Math.max(0, i))]!;
  const out: [number, number][] = [points[0]!];
  for (let i = 0; i + 1 < points.length; i++)
    for (let k = 1; k <= 4; k++) {
      const t = k / 4;
      const value = (a: number, b: number, c: number, d: number) =>
        0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t ** 3);
      const [p, q, r, s] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
      out.push([value(p[0], q[0], r[0], s[0]), value(p[1], q[1], r[1], s[1])]);
    }
  return out;
}

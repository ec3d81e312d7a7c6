import type { Point } from '../geometry/box.ts';
import type { StampLook, StampSign } from './look.ts';

/** One part of a stamp: a line to be drawn or an outline to be filled. In the stamp's square, 0…1 from its top left. */
export interface StampPart {
  readonly points: readonly Point[];
  readonly filled: boolean;
}

/** The width of a stamp's lines, as a share of its side. */
export const STAMP_LINE = 0.11;

const line = (...points: Point[]): StampPart => ({ points, filled: false });

function disc(cx: number, cy: number, r: number): StampPart {
  const points = Array.from(
    { length: 24 },
    (_, i): Point => [cx + r * Math.cos((i * Math.PI) / 12), cy + r * Math.sin((i * Math.PI) / 12)],
  );
  return { points, filled: true };
}

function star(): StampPart {
  const points = Array.from({ length: 10 }, (_, i): Point => {
    const r = i % 2 ? 0.2 : 0.46;
    const a = (i * Math.PI) / 5 - Math.PI / 2;
    return [0.5 + r * Math.cos(a), 0.53 + r * Math.sin(a)];
  });
  return { points, filled: true };
}

/** The upper bow of a question mark, from its left end over the top to the stem. */
function bow(): Point[] {
  const out: Point[] = [];
  for (let i = 0; i <= 10; i++) {
    const a = Math.PI + (i * Math.PI * 1.25) / 10;
    out.push([0.5 + 0.2 * Math.cos(a), 0.3 + 0.2 * Math.sin(a)]);
  }
  return [...out, [0.5, 0.52], [0.5, 0.66]];
}

const TICK = line([0.1, 0.55], [0.36, 0.84], [0.92, 0.14]);
const SIGNS: Readonly<Record<StampSign, readonly StampPart[]>> = {
  tick: [TICK],
  half: [TICK, line([0.52, 0.28], [0.86, 0.56])],
  cross: [line([0.14, 0.14], [0.86, 0.86]), line([0.86, 0.14], [0.14, 0.86])],
  dot: [disc(0.5, 0.5, 0.24)],
  star: [star()],
  question: [line(...bow()), disc(0.5, 0.86, 0.07)],
};

/** What is drawn of a stamp; nothing for a picture, which is shown as it is. The same on the screen and in a PDF. */
export function stampParts(look: StampLook): readonly StampPart[] {
  if (look.of === 'sign') return SIGNS[look.sign];
  if (look.of === 'picture') return [];
  return look.strokes.map((s) =>
    line(...Array.from({ length: s.length / 2 }, (_, i): Point => [s[2 * i]! / 1000, s[2 * i + 1]! / 1000])),
  );
}

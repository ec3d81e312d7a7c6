import { type Box, boxAround, type Point } from '../geometry/box.ts';
import type { QuarterTurn } from '../geometry/page-space.ts';

/**
 * What is written upright on a page that was shown turned stands askew in page space. This takes a step as it was seen
 * (right, down) to the step it is in page space.
 */
export function uprightStep(turn: QuarterTurn, [right, down]: Point): Point {
  switch (turn) {
    case 0:
      return [right, down];
    case 90:
      return [down, -right];
    case 180:
      return [-right, -down];
    case 270:
      return [-down, right];
  }
}

/** The box in page space of what, from `origin`, reaches from `from` to `to` as it was seen. */
export function uprightBox(origin: Point, turn: QuarterTurn, from: Point, to: Point): Box {
  const a = uprightStep(turn, from);
  const b = uprightStep(turn, to);
  return boxAround(
    [a, b].map(([dx, dy]): Box => [origin[0] + dx, origin[1] + dy, origin[0] + dx, origin[1] + dy]),
  )!;
}

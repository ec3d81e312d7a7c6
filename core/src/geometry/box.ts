/** A rectangle `[left, top, right, bottom]`; in page space unless its name says otherwise. left ≤ right, top ≤ bottom. */
export type Box = readonly [number, number, number, number];

export type Point = readonly [number, number];

/** The smallest box round all of them, or null for none. */
export function boxAround(boxes: Iterable<Box>): Box | null {
  let out: [number, number, number, number] | null = null;
  for (const [l, t, r, b] of boxes) {
    if (!out) out = [l, t, r, b];
    else {
      if (l < out[0]) out[0] = l;
      if (t < out[1]) out[1] = t;
      if (r > out[2]) out[2] = r;
      if (b > out[3]) out[3] = b;
    }
  }
  return out;
}

export function grow(box: Box, by: number): Box {
  return [box[0] - by, box[1] - by, box[2] + by, box[3] + by];
}

export function overlaps(a: Box, b: Box): boolean {
  return a[0] <= b[2] && b[0] <= a[2] && a[1] <= b[3] && b[1] <= a[3];
}

export function contains(box: Box, [x, y]: Point): boolean {
  return x >= box[0] && x <= box[2] && y >= box[1] && y <= box[3];
}

/** Distance from a point to the nearest part of a box; 0 inside. */
export function distanceToBox([x, y]: Point, box: Box): number {
  return Math.hypot(Math.max(box[0] - x, 0, x - box[2]), Math.max(box[1] - y, 0, y - box[3]));
}

export function moveBox(box: Box, dx: number, dy: number): Box {
  return [box[0] + dx, box[1] + dy, box[2] + dx, box[3] + dy];
}

import type { Box } from '../geometry/box.ts';

/** A page as it was scanned: one byte a pixel, 0 black, row by row from the top. */
export interface GreyPicture {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8Array;
}

/** Darker than this share of the paper round it a pixel belongs to a rule: pale rules of writing paper count. */
const DARK = 0.82;
/** The page is looked at in strips so wide, in points: a rule that leans a little is level within one. */
const STRIP = 18;
/** So much of a strip's row must be dark. */
const FILLED = 0.75;
/** Thicker than this, in points, it is a bar or a picture. */
const THICKEST = 2.6;
/** From strip to strip a rule may climb so much, in points: scans lean by up to three degrees. */
const CLIMB = 1.2;
/** Shorter than this, in points, it is a dash or a part of a letter. */
const SHORTEST = 54;

/** A dark stretch of one strip: the rows it fills. */
interface Piece {
  readonly strip: number;
  readonly top: number;
  readonly bottom: number;
}

/**
 * Level rules on a scanned page, in points from its top left corner, each as thin as it is drawn; `scale` is how many pixels make a point. A scan has no drawing to
 * read them from: a rule is a chain of short dark stretches, each thin and with light above and below, one beside the other. Letters fill no stretch, pictures and bars
 * are too thick, and what leans by more than three degrees is no line to write on.
 */
export function rulesInPicture(picture: GreyPicture, scale: number): Box[] {
  const wide = Math.max(4, Math.round(STRIP * scale));
  const strips = Math.floor(picture.width / wide);
  const pieces = Array.from({ length: strips }, (_, s) => piecesOf(picture, s, wide, scale));
  const used = new Set<Piece>();
  const rules: Box[] = [];
  for (const column of pieces)
    for (const first of column) {
      if (used.has(first)) continue;
      const chain = [first];
      for (let s = first.strip + 1; s < strips; s++) {
        const last = chain.at(-1)!;
        // One strip may be interrupted, by a letter's tail or a speck.
        if (s - last.strip > 2) break;
        const reach = CLIMB * scale * (s - last.strip) + 1;
        const next = pieces[s]!.find((p) => !used.has(p) && Math.abs(middle(p) - middle(last)) <= reach);
        if (next) chain.push(next);
      }
      const box = boxOf(picture, chain, wide, scale);
      if (box[2] - box[0] < SHORTEST) continue;
      for (const p of chain) used.add(p);
      rules.push(box);
    }
  return rules.sort((a, b) => a[1] - b[1] || a[0] - b[0]);
}

const middle = (p: Piece): number => (p.top + p.bottom) / 2;

function piecesOf(
  { width, height, pixels }: GreyPicture,
  strip: number,
  wide: number,
  scale: number,
): Piece[] {
  const from = strip * wide;
  const most = Math.max(1, Math.round(THICKEST * scale));
  // The paper of this strip: what most of it is like, so that a shaded edge of a scan is paper as well.
  const limit = paperOf(pixels, width, height, from, wide) * DARK;
  const filled = (y: number): boolean => {
    let dark = 0;
    for (let x = from; x < from + wide; x++) if (pixels[y * width + x]! < limit) dark++;
    return dark >= FILLED * wide;
  };
  const out: Piece[] = [];
  for (let y = 0; y < height; y++) {
    if (!filled(y)) continue;
    const top = y;
    while (y + 1 < height && filled(y + 1)) y++;
    if (y - top + 1 <= most) out.push({ strip, top, bottom: y + 1 });
  }
  return out;
}

/** The brightness that a tenth of a strip's pixels reach or go beyond, from a sample of them. */
function paperOf(pixels: Uint8Array, width: number, height: number, from: number, wide: number): number {
  const counts = new Uint32Array(256);
  let all = 0;
  for (let y = 0; y < height; y += 3)
    for (let x = from; x < from + wide; x += 2) {
      counts[pixels[y * width + x]!]!++;
      all++;
    }
  let bright = 0;
  for (let level = 255; level > 0; level--) {
    bright += counts[level]!;
    if (bright >= all / 10) return level;
  }
  return 255;
}

function boxOf(picture: GreyPicture, chain: readonly Piece[], wide: number, scale: number): Box {
  const points = (n: number) => Math.round((n / scale) * 100) / 100;
  const [first, last] = [chain[0]!, chain.at(-1)!];
  // A leaning rule is as thin as in its middle: what is written stands on that.
  const level = chain.reduce((sum, p) => sum + middle(p), 0) / chain.length;
  const thick = Math.max(...chain.map((p) => p.bottom - p.top));
  return [
    points(first.strip * wide),
    points(level - thick / 2),
    points(Math.min(picture.width, (last.strip + 1) * wide)),
    points(level + thick / 2),
  ];
}

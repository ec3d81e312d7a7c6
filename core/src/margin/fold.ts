/**
 * Which notes show only their first words, so that all fit: the highest first, as few as need be; of equals the lower on the page. Those that must stay open
 * are never folded. Heights and the rest in one unit.
 */
export function foldToFit(
  heights: readonly number[],
  open: readonly boolean[],
  folded: number,
  length: number,
  gap: number,
): ReadonlySet<number> {
  const out = new Set<number>();
  let total = heights.reduce((sum, h) => sum + h + gap, -gap);
  const order = heights
    .map((height, i) => ({ height, i }))
    .filter(({ height, i }) => !open[i] && height > folded)
    .sort((a, b) => b.height - a.height || b.i - a.i);
  for (const { height, i } of order) {
    if (total <= length) break;
    out.add(i);
    total -= height - folded;
  }
  return out;
}

/** A note that wants to stand level with its place: `want` is the top it would like, `height` what it needs; one unit for all. */
export interface MarginItem {
  readonly want: number;
  readonly height: number;
}

export type Packed =
  | { readonly fits: true /** The top of each item, in the order given. */; readonly tops: readonly number[] }
  | { readonly fits: false /** How much taller than the margin the notes are. */; readonly excess: number };

/**
 * Places notes in a margin from 0 to `length` so that none overlap (with `gap` between), their order by `want`
 * is kept (equal wants: the order given), and the sum of squared moves from where they want to be is least.
 *
 * With y the tops and o the heights and gaps before each, z = y − o must not fall and 0 ≤ z ≤ length − all.
 * That is isotonic regression of want − o, solved by pooling adjacent violators (Ayer et al. 1955); clamping its
 * solution to the bounds keeps it best (Barlow et al. 1972).
 */
export function packMargin(items: readonly MarginItem[], length: number, gap: number): Packed {
  if (items.length === 0) return { fits: true, tops: [] };
  const order = items.map((_, i) => i).sort((a, b) => items[a]!.want - items[b]!.want || a - b);
  const total = items.reduce((sum, i) => sum + i.height, 0) + gap * (items.length - 1);
  const room = length - total;
  if (room < 0) return { fits: false, excess: -room };

  const blocks: { sum: number; count: number }[] = [];
  let offset = 0;
  const offsets: number[] = [];
  for (const i of order) {
    offsets.push(offset);
    let block = { sum: items[i]!.want - offset, count: 1 };
    for (
      let last = blocks.at(-1);
      last && last.sum / last.count > block.sum / block.count;
      last = blocks.at(-1)
    ) {
      block = { sum: last.sum + block.sum, count: last.count + block.count };
      blocks.pop();
    }
    blocks.push(block);
    offset += items[i]!.height + gap;
  }

  const tops = new Array<number>(items.length);
  let n = 0;
  for (const block of blocks) {
    const z = Math.min(room, Math.max(0, block.sum / block.count));
    for (let k = 0; k < block.count; k++, n++) tops[order[n]!] = z + offsets[n]!;
  }
  return { fits: true, tops };
}

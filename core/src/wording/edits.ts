/** One step from the words there were to the words there should be. Places count the words there were. */
export type WordEdit =
  | { readonly edit: 'cut'; readonly from: number; readonly to: number }
  /** `after` is the word it follows; −1: before the first. */
  | { readonly edit: 'add'; readonly after: number; readonly words: readonly string[] }
  | { readonly edit: 'swap'; readonly from: number; readonly to: number; readonly words: readonly string[] };

/** So many words cut and added are looked for. A teacher’s corrections are far fewer, and the work grows with their square. */
export const MOST_CHANGED = 700;

/** Words as they are compared: what stands between spaces, signs and all. */
export const wordsIn = (text: string): string[] => text.split(/\s+/u).filter(Boolean);

/**
 * The fewest words cut and added that make `after` of `before` (E. Myers, An O(ND) Difference Algorithm, 1986); what is cut and added at one place is a
 * swap. In order, none touching another. Where more than `MOST_CHANGED` words are others it is another text: one swap of all between the words at both ends
 * that stay. Law: `applyEdits(before, smallestEdits(before, after))` equals `after`.
 */
export function smallestEdits(before: readonly string[], after: readonly string[]): WordEdit[] {
  let start = 0;
  while (start < before.length && start < after.length && before[start] === after[start]) start++;
  let tail = 0;
  const most = Math.min(before.length, after.length) - start;
  while (tail < most && before[before.length - 1 - tail] === after[after.length - 1 - tail]) tail++;
  const a = before.slice(start, before.length - tail);
  const b = after.slice(start, after.length - tail);
  const out: WordEdit[] = [];
  // Where both have been walked to: what lies between two words that stay is one edit.
  let [x, y] = [0, 0];
  for (const [keptA, keptB] of [...kept(a, b), [a.length, b.length] as const]) {
    const edit = editOf(start + x, start + keptA, b.slice(y, keptB));
    if (edit) out.push(edit);
    [x, y] = [keptA + 1, keptB + 1];
  }
  return out;
}

function editOf(from: number, end: number, words: readonly string[]): WordEdit | null {
  if (from === end) return words.length ? { edit: 'add', after: from - 1, words } : null;
  return words.length ? { edit: 'swap', from, to: end - 1, words } : { edit: 'cut', from, to: end - 1 };
}

/** A longest sequence of words that stay: their places in both. */
function kept(a: readonly string[], b: readonly string[]): (readonly [number, number])[] {
  // Words as numbers are compared in no time.
  const numbers = new Map<string, number>();
  const numbered = (words: readonly string[]) =>
    Int32Array.from(words, (w) => {
      const n = numbers.get(w) ?? numbers.size;
      numbers.set(w, n);
      return n;
    });
  const [p, q] = [numbered(a), numbered(b)];
  const [n, m] = [p.length, q.length];
  const offset = n + m + 1;
  const reach = new Int32Array(2 * offset + 1);
  const trace: Int32Array[] = [];
  for (let d = 0; d <= Math.min(n + m, MOST_CHANGED); d++) {
    trace.push(reach.slice(offset - d - 1, offset + d + 2));
    for (let k = -d; k <= d; k += 2) {
      const down = k === -d || (k !== d && reach[offset + k - 1]! < reach[offset + k + 1]!);
      let x = down ? reach[offset + k + 1]! : reach[offset + k - 1]! + 1;
      while (x < n && x - k < m && p[x] === q[x - k]) x++;
      reach[offset + k] = x;
      if (x >= n && x - k >= m) return walkBack(trace, n, m);
    }
  }
  return [];
}

/** From the end back to the beginning along the furthest reaching paths: each step level with both is a word that stays. */
function walkBack(trace: readonly Int32Array[], n: number, m: number): (readonly [number, number])[] {
  const out: (readonly [number, number])[] = [];
  let [x, y] = [n, m];
  for (let d = trace.length - 1; d >= 0; d--) {
    const at = (k: number) => trace[d]![k + d + 1]!;
    const k = x - y;
    const down = k === -d || (k !== d && at(k - 1) < at(k + 1));
    const fromX = d === 0 ? 0 : at(down ? k + 1 : k - 1);
    // After its one step a path goes level with both as far as it can.
    const stepped = d === 0 || down ? fromX : fromX + 1;
    while (x > stepped) out.push([--x, --y]);
    [x, y] = [fromX, d === 0 ? 0 : fromX - (down ? k + 1 : k - 1)];
  }
  return out.reverse();
}

/** The words with edits made: each where it says, from the last to the first. */
export function applyEdits(before: readonly string[], edits: readonly WordEdit[]): string[] {
  const out = [...before];
  for (const e of edits.toReversed()) {
    if (e.edit === 'add') out.splice(e.after + 1, 0, ...e.words);
    else out.splice(e.from, e.to - e.from + 1, ...(e.edit === 'swap' ? e.words : []));
  }
  return out;
}

/** How many words edits take out and put in. */
export const editCost = (edits: readonly WordEdit[]): number =>
  edits.reduce(
    (sum, e) => sum + (e.edit === 'add' ? 0 : e.to - e.from + 1) + (e.edit === 'cut' ? 0 : e.words.length),
    0,
  );

/** A wording that stood for longer than this, in milliseconds, is one that was read again. */
export const REST_MS = 20_000;

/** Of the way of an answer the wordings that stood a while, and the last: not every key. */
export const restingPlaces = <T extends { readonly at: number }>(way: readonly T[]): T[] =>
  way.filter((w, i) => i === way.length - 1 || way[i + 1]!.at - w.at > REST_MS);

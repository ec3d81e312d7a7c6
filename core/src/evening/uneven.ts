/** Things that are the same, with the different points they earned. */
export interface Uneven<T> {
  readonly points: number;
  readonly of: readonly T[];
}

/**
 * Groups that earned different points though they are the same by `key`; each part of such a group with its points (in hundredths), the most first. What has
 * no points says nothing.
 */
export function unevenIn<T>(
  items: readonly T[],
  key: (item: T) => string,
  points: (item: T) => number | null,
): ReadonlyMap<string, readonly Uneven<T>[]> {
  const groups = new Map<string, Map<number, T[]>>();
  for (const item of items) {
    const earned = points(item);
    if (earned === null) continue;
    const group = groups.get(key(item)) ?? new Map<number, T[]>();
    group.set(earned, [...(group.get(earned) ?? []), item]);
    groups.set(key(item), group);
  }
  return new Map(
    [...groups]
      .filter(([, group]) => group.size > 1)
      .map(([k, group]) => [
        k,
        [...group].map(([earned, of]) => ({ points: earned, of })).sort((a, b) => b.points - a.points),
      ]),
  );
}

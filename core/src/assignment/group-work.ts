import { compareNames } from '../names/order.ts';

/** What set work is told by in lists. */
export interface Told {
  readonly unit: string;
  readonly category: string;
}

/** How a list of set work is narrowed and put together; null: it is not. */
export interface WorkView {
  readonly unit: string | null;
  readonly category: string | null;
  readonly by: keyof Told | null;
}

export const WHOLE_LIST: WorkView = { unit: null, category: null, by: null };

/** The units or categories in use, each once, as they are read. */
export const inUse = (work: readonly Told[], of: keyof Told): string[] =>
  [...new Set(work.map((w) => w[of]).filter(Boolean))].sort(compareNames);

/** What is asked for, in groups as they are read, in each in the order it came in. What has no unit or no category comes last, under an empty name. */
export function groupWork<T extends Told>(
  work: readonly T[],
  view: WorkView,
): { readonly name: string; readonly work: readonly T[] }[] {
  const { unit, category, by } = view;
  const kept = work.filter(
    (w) => (unit === null || w.unit === unit) && (category === null || w.category === category),
  );
  if (kept.length === 0) return [];
  if (by === null) return [{ name: '', work: kept }];
  const names = [...inUse(kept, by), ...(kept.some((w) => !w[by]) ? [''] : [])];
  return names.map((name) => ({ name, work: kept.filter((w) => w[by] === name) }));
}

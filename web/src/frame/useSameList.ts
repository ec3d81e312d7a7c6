import { useRef } from 'react';

/** The list of the last render, as long as the very same things are in it. */
export function useSameList<T>(list: readonly T[]): readonly T[] {
  const before = useRef(list);
  if (!sameList(before.current, list)) before.current = list;
  return before.current;
}

export const sameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a === b || (a.length === b.length && a.every((x, i) => Object.is(x, b[i])));

/** For `memo`: props are the same when each is, lists when the very same things are in them. */
export const samePropsAndLists = <P extends object>(a: P, b: P): boolean => {
  const names = Object.keys(a) as (keyof P)[];
  return (
    names.length === Object.keys(b).length &&
    names.every((name) => {
      const [x, y] = [a[name], b[name]];
      return Object.is(x, y) || (Array.isArray(x) && Array.isArray(y) && sameList(x, y));
    })
  );
};

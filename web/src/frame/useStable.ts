import { useRef, useState } from 'react';

type Functions = Readonly<Record<string, (...args: never[]) => unknown>>;

/**
 * The same functions for as long as the component lives, each calling the newest of its name: what is memoised below is not
 * made anew because a closure is another. For handlers only; they must not be called while rendering.
 */
export function useStable<T extends Functions>(functions: T): T {
  const newest = useRef(functions);
  newest.current = functions;
  const [stable] = useState(
    () =>
      Object.fromEntries(
        Object.keys(functions).map((name) => [name, (...args: never[]) => newest.current[name]!(...args)]),
      ) as unknown as T,
  );
  return stable;
}

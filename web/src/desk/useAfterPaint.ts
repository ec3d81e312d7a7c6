import { useEffect, useState } from 'react';

/** Turns true when what was rendered with `ready` has been painted: what can wait does not hold it up. */
export function useAfterPaint(ready: boolean): boolean {
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!ready) return;
    let clock: ReturnType<typeof setTimeout> | undefined;
    const frame = requestAnimationFrame(() => {
      clock = setTimeout(() => setSeen(true), 0);
    });
    // In a tab that is not shown nothing is painted.
    const late = setTimeout(() => setSeen(true), 100);
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(clock);
      clearTimeout(late);
    };
  }, [ready]);
  return seen;
}

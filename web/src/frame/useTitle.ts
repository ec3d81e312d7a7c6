import { useEffect } from 'react';

/** The tab says which view it shows: the nearest name first, "Mark book · 7K · Classes · Jotmark". */
export function useTitle(parts: readonly string[]): void {
  const title = [...parts.toReversed().filter(Boolean), 'Jotmark'].join(' · ');
  useEffect(() => {
    document.title = title;
    return () => {
      document.title = 'Jotmark';
    };
  }, [title]);
}

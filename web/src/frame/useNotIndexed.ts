import { useEffect } from 'react';

/** While it is shown the page is never to be found by a search. */
export function useNotIndexed(): void {
  useEffect(() => {
    const meta = document.createElement('meta');
    meta.name = 'robots';
    meta.content = 'noindex, nofollow';
    document.head.append(meta);
    return () => meta.remove();
  }, []);
}

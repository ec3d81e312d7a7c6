import { useEffect, useState } from 'react';

/** A telephone held upright. */
export const PHONE = '(max-width: 639px)';

/** A finger is what one points with: what is touched is larger. */
export const TOUCH = '(pointer: coarse)';

/** Whether this screen fits a media query, now and when it changes. */
export function useMedia(query: string): boolean {
  const [fits, setFits] = useState(() => matchMedia(query).matches);
  useEffect(() => {
    const media = matchMedia(query);
    const heard = () => setFits(media.matches);
    media.addEventListener('change', heard);
    return () => media.removeEventListener('change', heard);
  }, [query]);
  return fits;
}

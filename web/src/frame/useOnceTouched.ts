import { useEffect, useState } from 'react';

/** By then the first view stands. */
const IDLE_MS = 4000;

/** Whether somebody has begun to do something here, or has looked at it for a while: then what they will need next is loaded, so that it is there without a network too. */
export function useOnceTouched(): boolean {
  const [touched, setTouched] = useState(false);
  useEffect(() => {
    const touch = () => setTouched(true);
    const clock = setTimeout(touch, IDLE_MS);
    const begins = ['pointerdown', 'keydown', 'focusin'] as const;
    for (const begin of begins) window.addEventListener(begin, touch, { once: true, passive: true });
    return () => {
      clearTimeout(clock);
      for (const begin of begins) window.removeEventListener(begin, touch);
    };
  }, []);
  return touched;
}

import { useEffect, useState } from 'react';
import { addressOf } from '../api/call.ts';
import { useTell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { useLive } from '../live/useLive.ts';

/** Whoever is signed in hears of what is new at once, wherever they are in the app. A tab that nobody looks at lets its line go: a browser opens few. */
export function NewsLine() {
  const { session } = useHere();
  const tell = useTell();
  const [seen, setSeen] = useState(document.visibilityState === 'visible');
  useEffect(() => {
    const look = () => setSeen(document.visibilityState === 'visible');
    document.addEventListener('visibilitychange', look);
    return () => document.removeEventListener('visibilitychange', look);
  }, []);
  // The first number only says how far it is.
  const heard = () => tell('newsCame', {});
  useLive<{ news: number }>(session.person && seen ? addressOf('newsLive') : null, heard, () => {});
  return null;
}

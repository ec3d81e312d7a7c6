import { type HandBackHow, momentAt, PLAIN_HAND_BACK } from '@jotmark/core';
import { useState } from 'react';
import { useHere } from '../frame/session.tsx';

/** So far ahead a time may be set. */
const MOST_AHEAD_MS = 366 * 86_400_000;

/** How and when copies go back, as it is being decided. */
export function useHandBackPlan() {
  const { session } = useHere();
  const [how, setHow] = useState<HandBackHow>(PLAIN_HAND_BACK);
  const [later, setLater] = useState(false);
  const [wall, setWall] = useState('');
  const at = momentAt(wall, session.school.timeZone);
  const tooFar = at !== null && at > Date.now() + MOST_AHEAD_MS;
  return {
    how,
    change: (over: Partial<HandBackHow>) => setHow((now) => ({ ...now, ...over })),
    later,
    setLater,
    /** As the school's clock shows it. */
    wall,
    setWall,
    /** When it goes, in ms; null: no time is chosen yet. */
    at: later ? at : null,
    /** It cannot go back with this: no time, or one that is too far ahead. */
    unset: later && (at === null || tooFar),
    tooFar: later && tooFar,
    begin: () => {
      setHow(PLAIN_HAND_BACK);
      setLater(false);
    },
  };
}

export type HandBackPlan = ReturnType<typeof useHandBackPlan>;

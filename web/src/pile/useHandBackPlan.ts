import { type HandBackHow, momentAt, PLAIN_HAND_BACK } from '@jotmark/core';
import { useState } from 'react';
import { useHere } from '../frame/session.tsx';

/** How and when copies go back, as it is being decided. */
export function useHandBackPlan() {
  const { session } = useHere();
  const [how, setHow] = useState<HandBackHow>(PLAIN_HAND_BACK);
  const [later, setLater] = useState(false);
  const [wall, setWall] = useState('');
  const at = momentAt(wall, session.school.timeZone);
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
    begin: () => {
      setHow(PLAIN_HAND_BACK);
      setLater(false);
    },
  };
}

export type HandBackPlan = ReturnType<typeof useHandBackPlan>;

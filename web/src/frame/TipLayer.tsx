import { useEffect, useState } from 'react';
import { onDemand } from './on-demand.tsx';

const Tips = onDemand(() => import('./Tips.tsx').then((m) => m.default), { quiet: true });

/** Loads what shows tips when a mouse or a key first comes near one: a telephone never does. */
export function TipLayer() {
  const [wanted, setWanted] = useState(false);
  useEffect(() => {
    const near = (e: Event) => {
      const mouse = !(e instanceof PointerEvent) || e.pointerType === 'mouse';
      if (mouse && e.target instanceof Element && e.target.closest('[data-tip]')) setWanted(true);
    };
    document.addEventListener('pointerover', near);
    document.addEventListener('focusin', near);
    return () => {
      document.removeEventListener('pointerover', near);
      document.removeEventListener('focusin', near);
    };
  }, []);
  return wanted && <Tips />;
}

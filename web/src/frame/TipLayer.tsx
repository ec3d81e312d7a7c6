import { lazy, Suspense, useEffect, useState } from 'react';

const Tips = lazy(() => import('./Tips.tsx'));

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
  return (
    wanted && (
      <Suspense>
        <Tips />
      </Suspense>
    )
  );
}

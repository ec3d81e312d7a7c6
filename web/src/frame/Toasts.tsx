import { lazy, Suspense, useEffect, useSyncExternalStore } from 'react';
import { toastsWanted } from './toast.ts';

const TOP = { top: 56 };
const FONT = { fontFamily: 'inherit' };

const Corner = lazy(() =>
  import('sonner').then(({ Toaster }) => ({
    default: function Shown() {
      // Its own effects ran before: from now on it hears of each.
      useEffect(() => toastsWanted.shown(), []);
      // Under the bar on top: at the foot it would lie on the pens.
      return <Toaster position="top-center" offset={TOP} mobileOffset={TOP} closeButton style={FONT} />;
    },
  })),
);

/** Where words in the corner are shown, as soon as there is one. */
export function Toasts() {
  const wanted = useSyncExternalStore(toastsWanted.subscribe, toastsWanted.now);
  return wanted ? (
    <Suspense fallback={null}>
      <Corner />
    </Suspense>
  ) : null;
}

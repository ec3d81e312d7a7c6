import { type ComponentType, type ReactNode, useEffect, useState } from 'react';
import { toast } from './toast.ts';

/**
 * A part of a view that is loaded when it is first wanted. Without a network it may not come: then that is said, what stands in its place stays, and it is
 * asked for again as soon as the network is back or it is wanted anew. The view round it never falls over.
 */
export function onDemand<P extends object>(
  load: () => Promise<ComponentType<P>>,
  {
    until = () => null,
    quiet = false,
  }: {
    /** What stands in its place. */
    until?(p: P): ReactNode;
    /** Without it all that is needed is there: nothing is said. */
    quiet?: boolean;
  } = {},
): ComponentType<P> {
  let loaded: ComponentType<P> | null = null;
  return function OnDemand(p: P) {
    const [Part, setPart] = useState<ComponentType<P> | null>(() => loaded);
    useEffect(() => {
      if (Part) return;
      let left = false;
      const ask = () =>
        load().then(
          (part) => {
            loaded = part;
            if (!left) setPart(() => part);
          },
          () => {
            if (!left && !quiet)
              toast.error('This part could not be loaded: there is no network. What you did is kept.', {
                id: 'part-missing',
              });
          },
        );
      ask();
      window.addEventListener('online', ask);
      return () => {
        left = true;
        window.removeEventListener('online', ask);
      };
    }, [Part]);
    return Part ? <Part {...p} /> : until(p);
  };
}

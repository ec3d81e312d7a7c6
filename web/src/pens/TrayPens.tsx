import { type ComponentType, useState } from 'react';
import { afterPress } from '../frame/press.ts';
import { moved, onMoveKeys } from './move-pens.ts';
import { PenButton } from './PenTray.tsx';
import type { PensProps } from './SortablePens.tsx';

/** What moves pens by dragging, once it was wanted in this window. */
let Sortable: ComponentType<PensProps> | null = null;

/** The pens of a tray. They can be put elsewhere by dragging as soon as a pointer has come near: what that needs is loaded then. */
export function TrayPens(p: PensProps) {
  const [, setReady] = useState(Sortable !== null);
  if (Sortable) return <Sortable {...p} />;
  const load = () =>
    import('./SortablePens.tsx').then(
      (m) => {
        Sortable = m.SortablePens;
        // Not while a pen is being pressed: its button would be another when it is let go.
        afterPress(() => setReady(true));
      },
      // Without a network they stay where they are; Alt and the arrows move them all the same.
      () => {},
    );
  return (
    <div className="contents" onPointerEnter={load}>
      {p.pens.map((at, i) => (
        <PenButton
          key={at.key}
          at={at}
          taken={at.key === p.taken}
          onTake={() => p.onTake(at.key)}
          onChange={() => p.onChange(at.key)}
          sorting={{
            onKeyDown: onMoveKeys((by) => {
              const next = moved(
                p.pens.map((one) => one.pen),
                i,
                i + by,
              );
              if (next) p.onOrder(next);
            }),
          }}
        />
      ))}
    </div>
  );
}

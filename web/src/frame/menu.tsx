import { useState } from 'react';
import type { MenuProps } from './menu-entry.ts';
import { onDemand } from './on-demand.tsx';
import { tip } from './tip.ts';

const OpenMenu = onDemand(() => import('./OpenMenu.tsx').then((m) => m.OpenMenu), {
  until: (p: MenuProps & { openNow: boolean }) => <Plain {...p} onOpen={() => {}} />,
});

/** A menu behind a button. What opens menus is loaded when the first one is wanted: on a first visit nobody opens one. */
export function Menu(p: MenuProps) {
  const [wanted, setWanted] = useState(false);
  return wanted ? <OpenMenu {...p} openNow /> : <Plain {...p} onOpen={() => setWanted(true)} />;
}

function Plain({ label, told, className, children, onOpen }: MenuProps & { onOpen(): void }) {
  return (
    <button
      type="button"
      aria-haspopup="menu"
      aria-expanded={false}
      aria-label={label}
      className={className}
      {...tip(told ? label : undefined)}
      onClick={onOpen}
    >
      {children}
    </button>
  );
}

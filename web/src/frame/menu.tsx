import { type ReactNode, useState } from 'react';
import { onDemand } from './on-demand.tsx';
import { tip } from './tip.ts';

export interface MenuEntry {
  readonly key: string;
  readonly words: ReactNode;
  /** It is how things are now. Left out: it is nothing that can be so. */
  readonly chosen?: boolean;
  readonly disabled?: boolean;
  /** A rule stands above it. */
  readonly parted?: boolean;
  onClick(): void;
}

export interface MenuProps {
  /** What its button is called. */
  readonly label: string;
  /** Whether that is shown when one points at the button. */
  readonly told?: boolean;
  /** How the button looks, and what it shows. */
  readonly className: string;
  readonly children: ReactNode;
  readonly to: 'top end' | 'bottom start' | 'bottom end';
  /** How wide the menu is, as a class. */
  readonly wide: string;
  readonly entries: readonly MenuEntry[];
}

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

import type { ReactNode } from 'react';

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

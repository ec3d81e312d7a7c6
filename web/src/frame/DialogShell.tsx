import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';

const WIDTHS = { narrow: 'max-w-lg', middle: 'max-w-xl', wide: 'max-w-3xl' } as const;

/** Every dialog of the app: in the middle, above all else, closed by Escape or beside it; its title is what it is called. */
export function DialogShell({
  open,
  title,
  width = 'narrow',
  onClose,
  children,
}: {
  open: boolean;
  /** Null: what is in it says its own, with `ShellTitle`. */
  title: ReactNode;
  width?: keyof typeof WIDTHS;
  onClose(): void;
  children: ReactNode;
}) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-text/30" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel
          className={`flex max-h-full w-full flex-col overflow-auto rounded-xl bg-raised shadow-xl ${WIDTHS[width]} ${title === null ? '' : 'p-6'}`}
        >
          {title !== null && <ShellTitle>{title}</ShellTitle>}
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

export function ShellTitle({ children }: { children: ReactNode }) {
  return <DialogTitle className="text-xl font-bold">{children}</DialogTitle>;
}

import { type ReactNode, useState } from 'react';

/** A part that folds, and stays as one left it from copy to copy, in this browser. */
export function Fold({
  name,
  head,
  className = '',
  headClass = '',
  onOpen,
  children,
}: {
  /** Under which it is kept. */
  readonly name: string;
  readonly head: ReactNode;
  readonly className?: string;
  readonly headClass?: string;
  /** Hears whether it is open: what is in it may be made only then. */
  onOpen?(open: boolean): void;
  readonly children: ReactNode;
}) {
  const place = `jotmark.fold.${name}`;
  const [open] = useState(() => isOpenFold(name));
  return (
    <details
      className={className}
      open={open}
      onToggle={(e) => {
        const now = e.currentTarget.open;
        try {
          if (now) localStorage.setItem(place, 'open');
          else localStorage.removeItem(place);
        } catch {
          // It folds all the same.
        }
        onOpen?.(now);
      }}
    >
      <summary className={`cursor-pointer ${headClass}`}>{head}</summary>
      {children}
    </details>
  );
}

/** Whether a fold was left open. */
export function isOpenFold(name: string): boolean {
  try {
    return localStorage.getItem(`jotmark.fold.${name}`) === 'open';
  } catch {
    return false;
  }
}

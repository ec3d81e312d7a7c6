import type { ReactNode } from 'react';
import { DialogShell } from './DialogShell.tsx';

/** A question before something that others feel and that cannot be undone: what will happen is in it, and the button says it again. */
export function Ask({
  open,
  title,
  does,
  children,
  busy = false,
  onDo,
  onClose,
}: {
  open: boolean;
  title: string;
  /** What the button does: a verb and its object. */
  does: string;
  children: ReactNode;
  busy?: boolean;
  onDo(): void;
  onClose(): void;
}) {
  return (
    <DialogShell open={open} title={title} onClose={onClose}>
      <div className="mt-3 space-y-2">{children}</div>
      <div className="mt-5 flex flex-wrap gap-3">
        <button type="button" className="act" disabled={busy} onClick={onDo}>
          {does}
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Cancel
        </button>
      </div>
    </DialogShell>
  );
}

import type { CopyId } from '@jotmark/core';
import { useEffect, useState } from 'react';
import { Conversation, useUnread } from './Conversation.tsx';

interface Props {
  readonly copyId: CopyId;
  readonly title: string;
  /** Whom one writes to. */
  readonly withWhom: string;
  readonly className: string;
}

/** The conversation on a copy, folded. It opens by itself when there is something new that is about no note, and stays open while that is read and after: only a hand closes it. */
export function WordsFold({ copyId, title, withWhom, className }: Props) {
  const { all, besides } = useUnread(copyId);
  const [open, setOpen] = useState(besides > 0);
  useEffect(() => {
    if (besides > 0) setOpen(true);
  }, [besides]);
  return (
    <details
      className="border-t border-line pt-3"
      open={open}
      onToggle={(e) => setOpen(e.currentTarget.open)}
    >
      <summary className={`cursor-pointer ${className}`}>
        {title}
        {all > 0 && <span className="ml-2 font-semibold text-caution">{all} new</span>}
      </summary>
      {/* What is folded is not in sight, and not read. */}
      <div className="mt-2">{open && <Conversation copyId={copyId} withWhom={withWhom} />}</div>
    </details>
  );
}

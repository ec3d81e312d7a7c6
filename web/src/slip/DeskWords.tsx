import type { Desk } from '@jotmark/core';
import { Conversation, useUnread } from '../conversation/Conversation.tsx';

/** The conversation with the student, unfolded when there is something new in it. */
export function DeskWords({ desk }: { desk: Desk }) {
  const unread = useUnread(desk.copyId);
  return (
    <details className="mt-4 border-t border-line pt-3" open={unread > 0 || undefined}>
      <summary className="cursor-pointer text-sm text-soft">
        Words with {desk.student.given}
        {unread > 0 && <span className="ml-2 font-semibold text-caution">{unread} new</span>}
      </summary>
      <div className="mt-2">
        <Conversation copyId={desk.copyId} withWhom={desk.student.given} />
      </div>
    </details>
  );
}

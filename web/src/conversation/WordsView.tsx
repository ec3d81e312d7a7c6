import { CopyId } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { CallFailed } from '../api/call.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { Conversation } from './Conversation.tsx';
import { conversationQuery } from './useMessages.ts';

/** Who comes: a teacher who saw on Today that a student wrote. Reads, answers, and goes to the copy if there is one. */
export function WordsView() {
  const parsed = CopyId.safeParse(useParams().copyId);
  const talk = useQuery({ ...conversationQuery(parsed.data ?? ('' as CopyId)), enabled: parsed.success });
  const about = talk.data;
  return (
    <>
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          ...(about ? [{ text: about.title, to: `/piles/${about.assignmentId}` }] : []),
          { text: about?.student ?? 'Messages' },
        ]}
      >
        {about?.handedIn && parsed.success && (
          <Link to={`/desk/${parsed.data}`} className="quiet">
            To the copy
          </Link>
        )}
      </TopBar>
      <main className="mx-auto max-w-xl p-6">
        {!parsed.success || talk.error ? (
          <Trouble error={talk.error ?? new CallFailed('not-found')} again={() => talk.refetch()} />
        ) : !about ? (
          <Waiting what="the conversation" />
        ) : (
          <div className="rounded-lg bg-raised p-5 shadow-sm">
            <Conversation copyId={parsed.data} withWhom={about.student} />
          </div>
        )}
      </main>
    </>
  );
}

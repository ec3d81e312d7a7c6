import { CopyId, type Desk } from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useParams } from 'react-router';
import { deskQuery, prepareCopy } from '../ahead/ahead.ts';
import { CallFailed } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { DeskView } from './DeskView.tsx';
import { useKeeper } from './useKeeper.ts';

/** Who comes: a tired teacher with a pen. Reads, writes, goes on; nothing to save, nothing to wait for, always in sight how far and whether it is kept. */
export function DeskRoute() {
  const parsed = CopyId.safeParse(useParams().copyId);
  const desk = useQuery({
    ...deskQuery(parsed.data ?? ('' as CopyId)),
    enabled: parsed.success,
    refetchOnWindowFocus: false,
  });
  if (!parsed.success) return <Trouble error={new CallFailed('not-found')} />;
  return (
    <div className="flex h-full flex-col">
      {desk.error ? (
        <>
          <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Desk' }]} />
          <Trouble error={desk.error} again={() => desk.refetch()} />
        </>
      ) : desk.data ? (
        <OpenDesk key={desk.data.handIn.id} desk={desk.data} />
      ) : (
        <Waiting what="the copy" />
      )}
    </div>
  );
}

function OpenDesk({ desk }: { desk: Desk }) {
  const keeper = useKeeper(desk);
  const client = useQueryClient();
  // The bytes and the first picture are on their way while the keeper opens.
  useEffect(() => {
    prepareCopy(client, desk.copyId);
  }, [client, desk.copyId]);
  // What the server said on arrival is old once this desk has been worked on.
  useEffect(() => () => client.removeQueries({ queryKey: keys.desk(desk.copyId) }), [client, desk.copyId]);
  return keeper ? <DeskView desk={desk} keeper={keeper} /> : <Waiting what="the copy" />;
}

import type { HandBackId, Work } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { crumbsOf } from './crumbs.ts';
import { MarkedCopy } from './MarkedCopy.tsx';

/** Who comes: a student who wants to see how the work came back before they improved it. All of it is there, to be read. */
export function EarlierCopy({ work, handBackId }: { work: Work; handBackId: HandBackId }) {
  const back = useQuery({
    queryKey: keys.handBack(handBackId),
    queryFn: () => call('handBackAsItWent', { params: { handBackId } }),
  });
  return (
    <div className="flex min-h-full flex-col">
      <TopBar crumbs={crumbsOf(work)} />
      <p className="bg-action-wash px-5 py-1.5 text-sm">
        {back.data && (
          <>
            Hand-in {back.data.handInNumber}, as it came back <When at={back.data.handedBackAt} />.{' '}
          </>
        )}
        <Link to="?" className="text-action underline">
          Back to the newest
        </Link>
      </p>
      {back.error ? (
        <Trouble error={back.error} again={() => back.refetch()} />
      ) : back.data ? (
        <MarkedCopy copyId={work.row.copyId} work={null} mine handBack={back.data} />
      ) : (
        <Waiting what="your pages" />
      )}
    </div>
  );
}

import { CopyId, HandBackHow, HandBackId, PLAIN_HAND_BACK } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { MarkedCopy } from './MarkedCopy.tsx';

/** How it would go back, as the address says it; as most do where it says nothing that can be read. */
function howIn(text: string | null): HandBackHow {
  try {
    return HandBackHow.parse(JSON.parse(text ?? 'null'));
  } catch {
    return PLAIN_HAND_BACK;
  }
}

/**
 * Who comes: the teacher, before handing back: a copy as its student would get it now; nobody else sees it, and nothing is kept of it. Or after it came in again:
 * what went back then.
 */
export function BackPreview() {
  const parsed = CopyId.safeParse(useParams().copyId);
  const [search] = useSearchParams();
  const how = howIn(search.get('how'));
  const back = HandBackId.safeParse(search.get('back')).data;
  const seen = useQuery({
    queryKey: back ? keys.handBack(back) : keys.asStudent(parsed.data!, JSON.stringify(how)),
    queryFn: () =>
      back
        ? call('handBackAsItWent', { params: { handBackId: back } })
        : call('asStudent', { params: { copyId: parsed.data! }, body: { how } }),
    enabled: parsed.success,
    staleTime: 0,
    gcTime: 0,
  });
  return (
    <div className="flex min-h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          { text: back ? 'As the student has it' : 'As the student will see it' },
        ]}
      >
        {parsed.success && (
          <Link to={`/desk/${parsed.data}`} className="text-action hover:underline">
            Back to the desk
          </Link>
        )}
      </TopBar>
      {!parsed.success || seen.error ? (
        <Trouble error={seen.error ?? new CallFailed('not-found')} again={() => seen.refetch()} />
      ) : seen.data ? (
        <>
          <p className="bg-action-wash px-5 py-1.5 text-sm">
            {back ? (
              <>
                {seen.data.handInNumber === 0 ? 'This' : `Hand-in ${seen.data.handInNumber}`} as its student
                has it, handed back <When at={seen.data.handedBackAt} />.
              </>
            ) : (
              'Nobody has seen this yet. It is what goes back if you hand back now.'
            )}
          </p>
          <MarkedCopy copyId={parsed.data!} work={null} handBack={seen.data} />
        </>
      ) : (
        <Waiting what="the copy" />
      )}
    </div>
  );
}

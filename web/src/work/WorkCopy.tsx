import { CopyId, HandBackId, type Work } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { crumbsOf } from './crumbs.ts';
import { HandedIn } from './HandedIn.tsx';
import { OpenCopy } from './OpenCopy.tsx';

const EarlierCopy = onDemand(() => import('./EarlierCopy.tsx').then((m) => m.EarlierCopy));
/** Wanted only once a copy came back. */
const MarkedCopy = onDemand(() => import('./MarkedCopy.tsx').then((m) => m.MarkedCopy), {
  until: () => <Waiting what="your pages" />,
});

/** One copy over its whole life: to be filled in, with the teacher, or back with marks. */
export function WorkCopy() {
  const parsed = CopyId.safeParse(useParams().copyId);
  const [search] = useSearchParams();
  const work = useQuery({
    queryKey: keys.work(parsed.data),
    queryFn: () => call('work', { params: { copyId: parsed.data! } }),
    enabled: parsed.success,
    refetchInterval: (query) =>
      query.state.data?.files.some((f) => ['queued', 'running'].includes(f.reading.state)) ? 1500 : 30_000,
  });
  const { session } = useHere();
  const { data } = work;
  if (!parsed.success || (work.error && !data) || !data)
    return (
      <div className="flex min-h-full flex-col">
        <TopBar
          crumbs={[
            { text: session.person?.role === 'teacher' ? 'Today' : 'My work', to: '/' },
            { text: 'Work' },
          ]}
        />
        {!parsed.success || work.error ? (
          <Trouble error={work.error ?? new CallFailed('not-found')} again={() => work.refetch()} />
        ) : (
          <Waiting what="your copy" />
        )}
      </div>
    );
  const away = data.row.place === 'in' || data.row.place === 'in-again';
  const improving = search.has('improve');
  const earlier = HandBackId.safeParse(search.get('back')).data;
  if (earlier) return <EarlierCopy key={earlier} work={data} handBackId={earlier} />;
  return (
    <div className={`flex flex-col ${away || (data.handBack && !improving) ? 'min-h-full' : 'h-full'}`}>
      {data.trialOf && <TrialLine work={data} />}
      {data.handBack && !improving ? (
        <>
          <TopBar crumbs={crumbsOf(data)} />
          <MarkedCopy key={data.handBack.id} copyId={data.row.copyId} work={data} handBack={data.handBack} />
        </>
      ) : away ? (
        <HandedIn work={data} />
      ) : (
        <OpenCopy
          key={data.row.copyId}
          work={data}
          leave={
            data.handBack && (
              <Link to="?" className="mb-4 block text-action underline">
                Back to the marked copy
              </Link>
            )
          }
        />
      )}
    </div>
  );
}

/** Above a copy of a trial run: what it is, and the way to the other side of it. */
function TrialLine({ work: { row } }: { work: Work }) {
  return (
    <p className="bg-action-wash px-4 py-2 text-sm" role="note">
      <strong>Trial run:</strong> you are the student here. No student sees it, and it counts nowhere.{' '}
      {row.place !== 'with-student' && (
        <Link to={`/desk/${row.copyId}`} className="text-action underline">
          Mark it
        </Link>
      )}
    </p>
  );
}

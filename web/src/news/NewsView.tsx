import { groupNews, type News, type Notice, newsSentence } from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useHere } from '../frame/session.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { When } from '../frame/When.tsx';
import { Choices } from './Choices.tsx';

/** Who comes: whoever saw a number at the bell. What is new, the newest first; from each one move to the very spot. */
export function NewsView() {
  const { session } = useHere();
  const client = useQueryClient();
  const news = useQuery({ queryKey: keys.news, queryFn: () => call('news'), refetchInterval: 60_000 });
  const mark = useMutation({
    mutationFn: (what: { ids: number[] | null; read: boolean }) => call('readNews', { body: what }),
    onSuccess: (now: News) => client.setQueryData(keys.news, now),
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const teacher = session.person?.role === 'teacher';
  return (
    <>
      <TopBar crumbs={[{ text: teacher ? 'Today' : 'My work', to: '/' }, { text: 'News' }]}>
        {teacher && (
          <Link to="/post" className="text-action hover:underline">
            Outbox
          </Link>
        )}
      </TopBar>
      <main className="mx-auto max-w-3xl p-5">
        {news.error && !news.data ? (
          <Trouble error={news.error} again={() => news.refetch()} />
        ) : !news.data ? (
          <Waiting what="your news" />
        ) : news.data.notices.length === 0 ? (
          <Empty title="No news yet">
            {teacher
              ? 'What students hand in, answer and write is told here.'
              : 'New work, changed dates and what comes back are told here.'}
          </Empty>
        ) : (
          <>
            <div className="flex items-baseline">
              <p className="text-2xl font-bold">
                {news.data.unread ? `${news.data.unread} not read` : 'All read'}
              </p>
              {news.data.unread > 0 && (
                <button
                  type="button"
                  className="ml-auto text-sm text-action underline"
                  onClick={() => mark.mutate({ ids: null, read: true })}
                >
                  Mark all as read
                </button>
              )}
            </div>
            <ol className="mt-3 divide-y divide-line rounded-lg bg-raised shadow-sm" aria-label="News">
              {groupNews(news.data.notices).map(({ first, all }) =>
                all.length === 1 ? (
                  <Line
                    key={first.id}
                    notice={first}
                    onRead={(read) => mark.mutate({ ids: [first.id], read })}
                  />
                ) : (
                  <Run
                    key={first.id}
                    all={all}
                    onRead={(ids, read) => mark.mutate({ ids: [...ids], read })}
                  />
                ),
              )}
            </ol>
          </>
        )}
        <Choices />
      </main>
    </>
  );
}

/** Many copies that came in one after the other: one line, and each of them below it when it is opened. */
function Run({
  all,
  onRead,
}: {
  all: readonly Notice[];
  onRead(ids: readonly number[], read: boolean): void;
}) {
  const first = all[0]!;
  return (
    <li className="px-4 py-2.5">
      <details>
        <summary className="flex cursor-pointer items-baseline gap-3">
          <span
            aria-hidden="true"
            className={`size-2 shrink-0 self-center rounded-full ${first.read ? 'bg-line' : 'bg-action'}`}
          />
          <span className="min-w-0 flex-1">
            <span className={first.read ? '' : 'font-semibold'}>
              {first.who} and {all.length - 1} others handed in “{first.title}”.
            </span>
            <span className="block text-sm text-soft">
              {first.className} · <When at={first.at} /> ·{' '}
              <Link to={`/piles/${first.assignmentId}`} className="text-action underline">
                Open the pile
              </Link>
            </span>
          </span>
          <button
            type="button"
            className="text-sm text-soft hover:text-action hover:underline"
            onClick={(e) => {
              e.preventDefault();
              onRead(
                all.map((n) => n.id),
                !first.read,
              );
            }}
          >
            {first.read ? 'Mark as not read' : 'Mark as read'}
          </button>
        </summary>
        <ol className="ml-3 border-l border-line">
          {all.map((n) => (
            <Line key={n.id} notice={n} onRead={(read) => onRead([n.id], read)} />
          ))}
        </ol>
      </details>
    </li>
  );
}

/** Where a notice leads: to the very spot. */
export function addressOf(n: Notice, teacher: boolean): string {
  if (['asked', 'asked-answered', 'join-asked'].includes(n.kind)) return '/classes';
  if (n.log) return teacher ? `/classes/${n.log.classId}/log/${n.log.personId}` : '/feedback';
  const mark = n.mark ? `?mark=${n.mark}` : '';
  if (!teacher) return n.copyId ? `/work/${n.copyId}${mark}` : '/';
  if (!n.copyId) return `/piles/${n.assignmentId}`;
  return n.kind === 'message' ? `/copies/${n.copyId}/words` : `/desk/${n.copyId}${mark}`;
}

function Line({ notice: n, onRead }: { notice: Notice; onRead(read: boolean): void }) {
  const { session, clock } = useHere();
  const navigate = useNavigate();
  const to = addressOf(n, session.person?.role === 'teacher');
  const now = Date.now();
  return (
    <li className="flex items-baseline gap-3 px-4 py-2.5">
      <span
        aria-hidden="true"
        className={`size-2 shrink-0 self-center rounded-full ${n.read ? 'bg-line' : 'bg-action'}`}
      />
      <Link
        to={to}
        className="min-w-0 flex-1 hover:text-action"
        onClick={(e) => {
          e.preventDefault();
          if (!n.read) onRead(true);
          navigate(to);
        }}
      >
        <span className={n.read ? '' : 'font-semibold'}>
          {!n.read && <span className="sr-only">Not read: </span>}
          {newsSentence(n, n.due === null ? '' : clock.moment(n.due, now))}
        </span>
        {n.words && <span className="block break-words text-soft">“{n.words}”</span>}
        <span className="block text-sm text-soft">
          {n.className && `${n.className} · `}
          <When at={n.at} />
        </span>
      </Link>
      <button
        type="button"
        className="text-sm text-soft hover:text-action hover:underline"
        onClick={() => onRead(!n.read)}
      >
        {n.read ? 'Mark as not read' : 'Mark as read'}
      </button>
    </li>
  );
}

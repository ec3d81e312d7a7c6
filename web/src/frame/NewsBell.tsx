import { useQuery } from '@tanstack/react-query';
import { Bell } from 'lucide-react';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';

/** How much one has not read, and the way to it. */
export function NewsBell() {
  const news = useQuery({ queryKey: keys.news, queryFn: () => call('news'), refetchInterval: 60_000 });
  const unread = news.data?.unread ?? 0;
  return (
    <Link
      to="/news"
      aria-label={unread ? `News, ${unread} not read` : 'News'}
      className="relative grid size-8 place-items-center rounded text-soft hover:text-action"
    >
      <Bell size={18} aria-hidden="true" />
      {unread > 0 && (
        <span
          aria-hidden="true"
          className="absolute top-0 right-0 min-w-4 rounded-full bg-action px-1 text-center text-[11px] leading-4 font-bold text-white tabular"
        >
          {unread > 99 ? '99+' : unread}
        </span>
      )}
    </Link>
  );
}

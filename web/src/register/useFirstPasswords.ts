import type { ClassId, Credentials } from '@jotmark/core';
import { type QueryClient, useQuery, useQueryClient } from '@tanstack/react-query';
import { keys } from '../ask/keys.ts';

const warned = new WeakSet<QueryClient>();

/** Whatever view is shown: closing the tab is asked about while passwords are only in it. */
function warnBeforeLeaving(client: QueryClient): void {
  if (warned.has(client)) return;
  warned.add(client);
  window.addEventListener('beforeunload', (e) => {
    const kept = client.getQueriesData({ queryKey: keys.firstPasswords() });
    if (kept.some(([, people]) => people)) e.preventDefault();
  });
}

/**
 * First passwords of a class that were made in this tab and not put away yet: whoever goes elsewhere by a slip finds them again. They are kept in this tab
 * alone, and go with the person: signing out forgets them.
 */
export function useFirstPasswords(classId: ClassId) {
  const client = useQueryClient();
  const queryKey = keys.firstPasswords(classId);
  const made =
    useQuery<readonly Credentials[] | null>({
      queryKey,
      queryFn: () => null,
      enabled: false,
      initialData: null,
      gcTime: Number.POSITIVE_INFINITY,
    }).data ?? null;
  return {
    made,
    show: (people: readonly Credentials[]) => {
      client.setQueryData(queryKey, people);
      warnBeforeLeaving(client);
    },
    done: () => {
      client.setQueryData(queryKey, null);
    },
  };
}

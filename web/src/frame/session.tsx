import type { Session } from '@jotmark/core';
import { type QueryClient, useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext, useMemo } from 'react';
import { call, takeToken } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { makeClock } from '../time/words.ts';
import { Trouble, Waiting } from './states.tsx';

interface Here {
  readonly session: Session;
  readonly clock: ReturnType<typeof makeClock>;
  /** Takes over a new session after signing in. */
  enter(session: Session): void;
  leave(): Promise<void>;
}

const Context = createContext<Here | null>(null);

export function useHere(): Here {
  const here = useContext(Context);
  if (!here) throw new Error('useHere outside of SessionProvider');
  return here;
}

/** Nothing that one person fetched is shown to the next. */
function forgetOthers(client: QueryClient): void {
  client.removeQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
}

export function SessionProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const session = useQuery({
    queryKey: keys.session,
    queryFn: async () => {
      const answer = await call('session');
      takeToken(answer);
      return answer;
    },
    staleTime: Number.POSITIVE_INFINITY,
    retry: 2,
  });
  const here = useMemo((): Here | null => {
    if (!session.data) return null;
    return {
      session: session.data,
      clock: makeClock(session.data.school.timeZone),
      enter(next) {
        takeToken(next);
        forgetOthers(client);
        client.setQueryData(keys.session, next);
      },
      async leave() {
        await call('signOut');
        const next = await call('session');
        forgetOthers(client);
        client.setQueryData(keys.session, next);
      },
    };
  }, [session.data, client]);
  if (session.error) return <Trouble error={session.error} again={() => session.refetch()} />;
  if (!here) return <Waiting what="Jotmark" />;
  return <Context value={here}>{children}</Context>;
}

import type { PersonId, Session } from '@jotmark/core';
import { type QueryClient, useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext, useMemo } from 'react';
import { call, takeToken } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { makeClock } from '../time/words.ts';
import { hasLocked } from './locked.ts';
import { Trouble, Waiting } from './states.tsx';

interface Here {
  readonly session: Session;
  readonly clock: ReturnType<typeof makeClock>;
  /** Takes over a new session after signing in. */
  enter(session: Session): Promise<void>;
  leave(): Promise<void>;
}

/** What this browser keeps of a person: locked away when they leave, and there again when they come. */
export interface OnDevice {
  lock(personId: PersonId, key: string): Promise<'nothing' | 'locked' | 'open'>;
  unlock(personId: PersonId, key: string): Promise<void>;
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

/** What was locked away here for this person lies open before anything looks for it. */
async function unlocked(device: OnDevice, { person }: Session): Promise<void> {
  if (!person || !hasLocked(person.id)) return;
  try {
    await device.unlock(person.id, (await call('deviceKey')).key);
  } catch (error) {
    // It stays locked, and is tried again the next time.
    console.warn('What is kept on this device could not be unlocked', error);
  }
}

/** Where nothing is kept. */
const KEEPS_NOTHING: OnDevice = { lock: async () => 'nothing', unlock: async () => {} };

export function SessionProvider({
  device = KEEPS_NOTHING,
  children,
}: {
  device?: OnDevice;
  children: ReactNode;
}) {
  const client = useQueryClient();
  const session = useQuery({
    queryKey: keys.session,
    queryFn: async () => {
      const answer = await call('session');
      takeToken(answer);
      await unlocked(device, answer);
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
      async enter(next) {
        takeToken(next);
        await unlocked(device, next);
        forgetOthers(client);
        client.setQueryData(keys.session, next);
      },
      async leave() {
        const { person } = session.data;
        const { key } = await call('deviceKey');
        await call('signOut');
        const how = person ? await device.lock(person.id, key) : 'nothing';
        // A page of its own: nothing that this one still holds in memory is there for who comes next.
        location.assign(how === 'open' ? '/sign-in?open' : '/sign-in');
      },
    };
  }, [session.data, client, device]);
  if (session.error) return <Trouble error={session.error} again={() => session.refetch()} />;
  if (!here) return <Waiting what="Jotmark" />;
  return <Context value={here}>{children}</Context>;
}

import type { ClassId, Credentials } from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { keys } from '../ask/keys.ts';

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
  useEffect(() => {
    if (!made) return;
    const hold = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener('beforeunload', hold);
    return () => window.removeEventListener('beforeunload', hold);
  }, [made]);
  return {
    made,
    show: (people: readonly Credentials[]) => {
      client.setQueryData(queryKey, people);
    },
    done: () => {
      client.setQueryData(queryKey, null);
    },
  };
}

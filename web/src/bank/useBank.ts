import { type HandInId, type Phrase, type PhraseId, PhraseIndex, type PhraseInput } from '@jotmark/core';
import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';

export const bankQuery = queryOptions({
  queryKey: keys.bank,
  queryFn: () => call('bank'),
  staleTime: 60_000,
});

const NONE: readonly Phrase[] = [];
/** On which the other windows of this browser hear that the bank is another. It does not hear itself. */
let line: BroadcastChannel | null = null;
function openLine(): BroadcastChannel {
  line ??= new BroadcastChannel('jotmark-bank');
  return line;
}

/** The teacher's comment bank, the same in every window of this browser, and what is done with it. */
export function useBank() {
  const client = useQueryClient();
  const { data, error, refetch } = useQuery(bankQuery);
  useEffect(() => {
    const others = openLine();
    const heard = () => tell(client, 'bankChanged', {});
    others.addEventListener('message', heard);
    return () => others.removeEventListener('message', heard);
  }, [client]);
  const phrases = data ?? NONE;
  const index = useMemo(() => new PhraseIndex(phrases), [phrases]);
  return useMemo(() => {
    const changed = (next: readonly Phrase[]) => {
      client.setQueryData(keys.bank, [...next]);
      openLine().postMessage('changed');
    };
    return {
      phrases,
      index,
      loaded: data !== undefined,
      error,
      refetch,
      /** Keeps phrases, new and changed ones. Throws what the server says. */
      keep: async (list: readonly PhraseInput[]) =>
        changed(await call('keepPhrases', { body: { phrases: [...list] } })),
      /** Takes one out; it can be put back. */
      async remove(phrase: Phrase) {
        try {
          changed(await call('removePhrase', { params: { phraseId: phrase.id } }));
          const { uses, usedAt, ...words } = phrase;
          toast('Taken out of the bank. Comments that were made with it stay as they are.', {
            action: {
              label: 'Undo',
              onClick: () =>
                call('keepPhrases', { body: { phrases: [words] } }).then(changed, (e) =>
                  toast.error(sentenceOf(e)),
                ),
            },
          });
        } catch (failed) {
          toast.error(sentenceOf(failed));
        }
      },
      /** Says that one was put into a copy. How often is no matter of life and death: without a network it is not counted. */
      used(phraseId: PhraseId, handInId: HandInId) {
        client.setQueryData(keys.bank, (old: Phrase[] | undefined) =>
          old?.map((p) => (p.id === phraseId ? { ...p, uses: p.uses + 1, usedAt: Date.now() } : p)),
        );
        call('usePhrase', { params: { handInId, phraseId } }).catch(() => {});
      },
    };
  }, [client, phrases, index, data, error, refetch]);
}

export type Bank = ReturnType<typeof useBank>;

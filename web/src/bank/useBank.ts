import {
  type BankShape,
  type HandInId,
  type MarkId,
  type MessageId,
  PHRASES_AT_ONCE,
  type Phrase,
  type PhraseId,
  PhraseIndex,
  type PhraseInput,
  type QuestionId,
} from '@jotmark/core';
import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { BANK_LANE } from '../outbox/letter.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { useOutbox } from '../outbox/useSheetKeeper.ts';
import { lastBank, rememberBank } from './last-bank.ts';

export const bankQuery = queryOptions({
  queryKey: keys.bank,
  queryFn: () => call('bank'),
  staleTime: 60_000,
});

const NONE: readonly Phrase[] = [];
const EMPTY: BankShape = { seq: 0, phrases: [], groups: [] };

/** The teacher's comment bank as this device knows it, with what was kept here and waits for a network; and what is done with it. */
export function useBank() {
  const client = useQueryClient();
  const me = useHere().session.person!.id;
  const asked = useQuery(bankQuery);
  useOutbox();
  const waits = outbox.waitingIn(BANK_LANE);
  const bank = asked.data ?? (asked.error ? lastBank(me) : null);
  useEffect(() => {
    if (asked.data) rememberBank(me, asked.data);
  }, [me, asked.data]);
  const phrases = useMemo(() => withWaiting(bank?.phrases ?? NONE, waits), [bank, waits]);
  const index = useMemo(() => new PhraseIndex(phrases), [phrases]);
  const { refetch } = asked;
  return useMemo(() => {
    const changed = (next: BankShape) => client.setQueryData(keys.bank, next);
    return {
      bank: { ...(bank ?? EMPTY), phrases },
      phrases,
      index,
      loaded: bank !== null,
      error: bank === null ? asked.error : null,
      refetch,
      changed,
      /** Keeps phrases, new and changed ones: on this device at once, in the bank as soon as there is a network. */
      keep: (list: readonly PhraseInput[]) =>
        outbox.putToBank(list.map((phrase) => ({ type: 'phrase', id: newId<MessageId>(), phrase }))),
      /** The same of many: sent at once or not kept, as many at a time as travel together. Throws what the server says; what went before then stands. */
      async keepMany(list: readonly PhraseInput[]) {
        for (const phrases of togetherIn(list)) changed(await call('keepPhrases', { body: { phrases } }));
      },
      /** Takes one out; it can be put back. */
      async remove(phrase: Phrase) {
        try {
          changed(await call('removePhrase', { params: { phraseId: phrase.id } }));
          const { uses, usedAt, asked: _, ...words } = phrase;
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
      /** Says that one was put into a copy. */
      used(
        phraseId: PhraseId,
        handInId: HandInId,
        at: { readonly markId: MarkId | null; readonly questionId: QuestionId | null },
      ) {
        client.setQueryData(
          keys.bank,
          (old: BankShape | undefined) =>
            old && {
              ...old,
              phrases: old.phrases.map((p) =>
                p.id === phraseId
                  ? {
                      ...p,
                      uses: p.uses + 1,
                      usedAt: Date.now(),
                      asked: at.questionId
                        ? [at.questionId, ...p.asked.filter((q) => q !== at.questionId)]
                        : p.asked,
                    }
                  : p,
              ),
            },
        );
        outbox.putToBank([{ type: 'phrase-use', id: newId<MessageId>(), phraseId, handInId, ...at }]);
      },
    };
  }, [client, bank, phrases, index, asked.error, refetch]);
}

export type Bank = ReturnType<typeof useBank>;

/** So many characters of phrases travel together: a remark written by hand is as long as twenty others. */
const TOGETHER = 300_000;

/** Phrases in lists that are short enough to be sent, in their order. */
export function togetherIn(list: readonly PhraseInput[]): PhraseInput[][] {
  const out: PhraseInput[][] = [];
  let length = 0;
  for (const phrase of list) {
    const long = JSON.stringify(phrase).length;
    const last = out.at(-1);
    if (last && last.length < PHRASES_AT_ONCE && length + long <= TOGETHER) {
      last.push(phrase);
      length += long;
    } else {
      out.push([phrase]);
      length = long;
    }
  }
  return out;
}

/** The bank with the phrases that wait to be sent: new ones behind the others, changed ones in their place. */
export function withWaiting(
  phrases: readonly Phrase[],
  waits: readonly { readonly type: string; readonly phrase?: PhraseInput }[],
): readonly Phrase[] {
  const latest = new Map(
    waits.flatMap((l) => (l.type === 'phrase' && l.phrase ? [[l.phrase.id, l.phrase]] : [])),
  );
  if (latest.size === 0) return phrases;
  const there = phrases.map((p): Phrase => ({ ...p, ...latest.get(p.id) }));
  const known = new Set(phrases.map((p) => p.id));
  const fresh = [...latest.values()].filter((p) => !known.has(p.id));
  return [...there, ...fresh.map((p): Phrase => ({ ...p, uses: 0, usedAt: null, asked: [] }))];
}

import type { bankRoutes } from '@jotmark/core';
import { keepPhrases, readBank, removePhrase, usePhrase } from '../bank/bank.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** The teacher's comment bank. */
export function bankHandlers({ house }: Parts): HandlersOf<typeof bankRoutes> {
  return {
    bank: ({ person }) => readBank(house, person),
    keepPhrases: ({ person, body }) => keepPhrases(house, person, body.phrases),
    removePhrase: ({ person, params }) => removePhrase(house, person, params.phraseId),
    usePhrase: ({ person, params }) => done(usePhrase(house, person, params.phraseId, params.handInId)),
  };
}

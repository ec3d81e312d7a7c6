import type { bankRoutes } from '@jotmark/core';
import { keepPhrases, mergePhrases, orderGroups, readBank, removePhrase, usePhrase } from '../bank/bank.ts';
import { phraseUses } from '../bank/uses.ts';
import { openLine } from '../live/line.ts';
import { followPhrase } from '../marking/follow-phrase.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** The teacher's comment bank. */
export function bankHandlers({ house, bankLine }: Parts): HandlersOf<typeof bankRoutes> {
  return {
    bank: ({ person }) => readBank(house, person),
    bankLive: async ({ person, res }) => {
      openLine(res);
      bankLine.add(res, person.id);
      return undefined;
    },
    keepPhrases: ({ person, body }) => keepPhrases(house, person, body.phrases),
    orderGroups: ({ person, body }) => orderGroups(house, person, body.groups),
    removePhrase: ({ person, params }) => removePhrase(house, person, params.phraseId),
    mergePhrases: ({ person, params, body }) => mergePhrases(house, person, params.phraseId, body.others),
    usePhrase: ({ person, params, body }) =>
      done(usePhrase(house, person, params.phraseId, params.handInId, body)),
    phraseUses: ({ person, params }) => phraseUses(house, person, params.phraseId),
    followPhrase: ({ person, params, body }) => followPhrase(house, person, params.phraseId, body),
  };
}

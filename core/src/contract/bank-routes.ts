import * as z from 'zod';
import { Phrase, PhraseInput } from '../bank/phrase.ts';
import { HandInId, PhraseId } from '../ids/id.ts';
import { listOf } from '../versions/list.ts';
import { route } from './route.ts';

/** So many phrases are kept at once; a longer list comes in several. */
export const PHRASES_AT_ONCE = 200;

const params = z.object({ phraseId: PhraseId });

/** A teacher's own comment bank, the same in every class. */
export const bankRoutes = {
  bank: route('GET', '/api/bank', 'teacher', 'One’s own comment bank', { reply: z.array(Phrase) }),
  keepPhrases: route(
    'POST',
    '/api/bank',
    'teacher',
    'Keeps phrases in one’s bank, new ones and changed ones',
    {
      body: z.object({ phrases: listOf(PhraseInput, PHRASES_AT_ONCE, 1) }),
      limit: 1024 * 1024,
      reply: z.array(Phrase),
    },
  ),
  removePhrase: route('DELETE', '/api/bank/:phraseId', 'teacher', 'Takes a phrase out of one’s bank', {
    params,
    reply: z.array(Phrase),
  }),
  usePhrase: route(
    'POST',
    '/api/hand-ins/:handInId/phrases/:phraseId',
    'teacher',
    'Says that a phrase of one’s own was put into a copy',
    { params: z.object({ handInId: HandInId, phraseId: PhraseId }) },
  ),
} as const;

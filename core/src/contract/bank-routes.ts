import * as z from 'zod';
import { PHRASES_AT_ONCE } from '../bank/limits.ts';
import { BankShape, GroupName, MOST_GROUPS, PHRASE_LIMIT, PhraseInput } from '../bank/phrase.ts';
import { CopyId, HandInId, MarkId, MessageId, PhraseId, QuestionId } from '../ids/id.ts';
import { listOf } from '../versions/list.ts';
import { route } from './route.ts';

const params = z.object({ phraseId: PhraseId });

/** Where a phrase was put into a copy. */
export const PhraseUse = z.object({
  copyId: CopyId,
  title: z.string(),
  className: z.string(),
  /** The student, or the code where the pile is blind. */
  student: z.string(),
  at: z.int(),
  /** Handed back: it stands as it is. */
  back: z.boolean(),
});
export type PhraseUse = z.infer<typeof PhraseUse>;

/** A teacher's own comment bank, the same in every class. */
export const bankRoutes = {
  bank: route('GET', '/api/bank', 'teacher', 'One’s own comment bank', { reply: BankShape }),
  bankLive: route('GET', '/api/bank/live', 'teacher', 'Hints that one’s bank is another', {
    sends: 'bytes',
  }),
  keepPhrases: route(
    'POST',
    '/api/bank',
    'teacher',
    'Keeps phrases in one’s bank, new ones and changed ones',
    {
      body: z.object({ phrases: listOf(PhraseInput, PHRASES_AT_ONCE, 1) }),
      limit: 1024 * 1024,
      reply: BankShape,
    },
  ),
  orderGroups: route('PUT', '/api/bank/groups', 'teacher', 'The order of the groups of one’s bank', {
    body: z.object({ groups: listOf(GroupName.min(1), MOST_GROUPS) }),
    reply: BankShape,
  }),
  removePhrase: route('DELETE', '/api/bank/:phraseId', 'teacher', 'Takes a phrase out of one’s bank', {
    params,
    reply: BankShape,
  }),
  mergePhrases: route(
    'POST',
    '/api/bank/:phraseId/merge',
    'teacher',
    'Makes one phrase of several that say the same: it stands, the others go, their uses count for it',
    { params, body: z.object({ others: listOf(PhraseId, 50, 1) }), reply: BankShape },
  ),
  usePhrase: route(
    'POST',
    '/api/hand-ins/:handInId/phrases/:phraseId',
    'teacher',
    'Says that a phrase of one’s own was put into a copy',
    {
      params: z.object({ handInId: HandInId, phraseId: PhraseId }),
      body: z.object({
        /** The client's, so that a use that is told twice counts once. */
        id: MessageId.optional(),
        markId: MarkId.nullable(),
        questionId: QuestionId.nullable(),
      }),
    },
  ),
  phraseUses: route(
    'GET',
    '/api/bank/:phraseId/uses',
    'teacher',
    'Where a phrase of one’s own was used last',
    {
      params,
      reply: z.array(PhraseUse),
    },
  ),
  followPhrase: route(
    'POST',
    '/api/bank/:phraseId/uses',
    'teacher',
    'Changes comments made with a phrase as the phrase was changed, in copies that are not handed back',
    {
      params,
      body: z.object({ was: z.string().max(PHRASE_LIMIT), now: z.string().trim().min(1).max(PHRASE_LIMIT) }),
      reply: z.object({
        changed: z.int(),
        /** Changed by hand since, or handed back. */
        left: z.int(),
      }),
    },
  ),
} as const;

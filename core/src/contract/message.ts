import * as z from 'zod';
import { DocumentId, MarkId, MessageId } from '../ids/id.ts';
import { Quote } from '../passage/quote.ts';

const Moment = z.int().min(0);

/** A change of wording that words propose, for the quoted words they point to. */
export const Instead = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('cut') }),
  z.object({ kind: z.literal('add'), words: z.string().trim().min(1).max(1000) }),
  z.object({ kind: z.literal('swap'), words: z.string().trim().min(1).max(1000) }),
]);
export type Instead = z.infer<typeof Instead>;

/** A spot on a page that words point to, in points of page space; and what stands there. */
export const MessagePlace = z
  .object({
    document: DocumentId,
    page: z.int().min(0).max(499),
    x: z.number().min(-2000).max(16_400),
    y: z.number().min(-2000).max(16_400),
    /** The mark of a hand-back that is answered. */
    mark: MarkId.optional(),
    /** The words they are about. */
    quote: Quote.optional(),
    instead: Instead.optional(),
    /** The moment of the working trail they are about. */
    moment: Moment.optional(),
  })
  .refine((place) => !place.instead || place.quote, 'words to change');
export type MessagePlace = z.infer<typeof MessagePlace>;

/** What somebody did with what was said at a place: a student with a suggestion or a note, a teacher who opens it again; or a student's answer to the question to think about. */
export const MessageAct = z.enum(['accepted', 'declined', 'sorted', 'reopened', 'reflected']);
export type MessageAct = z.infer<typeof MessageAct>;

/** One word of the conversation on a copy. */
export const Message = z.object({
  id: MessageId,
  by: z.string(),
  mine: z.boolean(),
  at: Moment,
  words: z.string(),
  /** It travelled with a hand-in. */
  cover: z.boolean(),
  /** Where on the copy's pages it points; null: nowhere in particular. */
  place: MessagePlace.nullable(),
  /** Null: it only says something. */
  act: MessageAct.nullable(),
  unread: z.boolean(),
  /** Of one's own: when somebody it is for had read it; null: nobody has. */
  seenAt: Moment.nullable(),
  /** Its author changed its words since. */
  edited: z.boolean(),
  /** Its author withdrew it after it was read: its words are gone. */
  withdrawn: z.boolean(),
});
export type Message = z.infer<typeof Message>;
export const MESSAGE_LIMIT = 4000;

import * as z from 'zod';
import { MailId } from '../ids/id.ts';
import { NewsChoices } from '../news/choices.ts';
import { NEWS_SHOWN, Notice } from '../news/notice.ts';
import { listOf } from '../versions/list.ts';
import { Bytes, route } from './route.ts';
import { Moment } from './shapes.ts';

export const News = z.object({
  unread: z.int(),
  /** The newest first. */
  notices: z.array(Notice).max(NEWS_SHOWN),
});
export type News = z.infer<typeof News>;

/** A letter that Jotmark wrote. */
export const MailShape = z.object({
  id: MailId,
  to: z.string(),
  address: z.string(),
  subject: z.string(),
  body: z.string(),
  at: Moment,
  /** Null: it waits. */
  sentAt: Moment.nullable(),
  /** When it goes, while it waits. */
  notBefore: Moment,
  /** Why it did not go yet; null: nothing is wrong. */
  trouble: z.string().nullable(),
});
export type MailShape = z.infer<typeof MailShape>;

/** What one is told of, and the letters about it. */
export const newsRoutes = {
  news: route('GET', '/api/news', 'person', 'One’s news, the newest first', { reply: News }),
  readNews: route('POST', '/api/news/read', 'person', 'These were read; without any: all up to now', {
    body: z.object({ ids: listOf(z.int().min(0), NEWS_SHOWN).nullable(), read: z.boolean() }),
    reply: News,
  }),
  newsLive: route('GET', '/api/news/live', 'person', 'How much news there is, whenever there is more', {
    reply: Bytes,
    sends: 'bytes',
  }),
  newsChoices: route('GET', '/api/news/choices', 'person', 'What one is told of', { reply: NewsChoices }),
  chooseNews: route('PUT', '/api/news/choices', 'person', 'Chooses what one is told of', {
    body: NewsChoices,
    reply: NewsChoices,
  }),
  mails: route('GET', '/api/mails', 'teacher', 'Letters to oneself and to one’s students, the newest first', {
    reply: z.object({ post: z.enum(['simulated', 'real']), mails: z.array(MailShape) }),
  }),
  mailFile: route('GET', '/api/mails/:mailId/file', 'teacher', 'One letter as it went, as a file', {
    params: z.object({ mailId: MailId }),
    reply: Bytes,
    sends: 'bytes',
  }),
} as const;

import type { newsRoutes } from '@jotmark/core';
import { Fault } from '../fault.ts';
import { openLine } from '../live/line.ts';
import { markNews, readNews } from '../news/read.ts';
import { keepChoices, readChoices } from '../news/tell.ts';
import { mailsFor, readMail } from '../post/outbox.ts';
import { asFile } from '../post/transport.ts';
import type { HandlersOf, Parts } from './handler.ts';

/** What one is told of, and the letters about it. */
export function newsHandlers({ house, newsLine }: Parts): HandlersOf<typeof newsRoutes> {
  return {
    news: ({ person }) => readNews(house, person),
    readNews: async ({ person, body }) => {
      await markNews(house, person, body.ids, body.read);
      return readNews(house, person);
    },
    newsLive: async ({ person, res }) => {
      openLine(res);
      newsLine.add(res, person.id);
      return undefined;
    },
    newsChoices: ({ person }) => readChoices(house.db.manager, person.id),
    chooseNews: ({ person, body }) => keepChoices(house, person.id, body),
    mails: async ({ person }) => ({
      post: house.settings.mail.server ? ('real' as const) : ('simulated' as const),
      mails: await mailsFor(house.db.manager, person),
    }),
    mailFile: async ({ person, params, res }) => {
      const mail = await readMail(house.db.manager, person, params.mailId);
      if (!mail) throw new Fault('not-found');
      const bytes = await asFile(mail, mail.to, mail.sentAt ?? mail.at, house.settings);
      res
        .status(200)
        .set({
          'Content-Type': 'message/rfc822',
          'Content-Disposition': `attachment; filename="${mail.id}.eml"`,
          'Cache-Control': 'private, no-store',
        })
        .end(bytes);
      return undefined;
    },
  };
}

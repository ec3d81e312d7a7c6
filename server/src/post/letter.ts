import type { MailId, PersonId } from '@jotmark/core';
import { In } from 'typeorm';
import { type MailRow, MailTable, PersonTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { insert } from '../database/write.ts';
import { type House, newId } from '../house.ts';
import { orderJobs } from '../jobs/queue.ts';

export interface Letter {
  /** Left out: it gets one. */
  readonly id?: MailId;
  readonly personId: PersonId;
  readonly subject: string;
  /** Empty: it is written when it goes. */
  readonly body: string;
  readonly daily: boolean;
  readonly notBefore: number;
}

/** Where somebody gets letters: a login that is an address is that address, else the login at the school's own domain. */
export const addressOf = (login: string, domain: string): string =>
  (login.includes('@') ? login : `${login}@${domain}`).slice(0, 254);

/** Puts letters into the post, in the transaction of what they tell of: they go once that is committed. Gives their ids, in their order. */
export async function post(house: House, db: Db, letters: readonly Letter[]): Promise<MailId[]> {
  if (letters.length === 0) return [];
  const people = await db.getRepository(PersonTable).find({
    select: { id: true, login: true },
    where: { id: In([...new Set(letters.map((l) => l.personId))]) },
  });
  const logins = new Map(people.map((p) => [p.id, p.login]));
  const rows = letters.map(
    (l): MailRow => ({
      id: l.id ?? newId<MailId>(house),
      personId: l.personId,
      address: addressOf(logins.get(l.personId) ?? 'nobody', house.settings.mail.domain),
      subject: l.subject.replace(/\s+/g, ' ').slice(0, 300),
      body: l.body,
      daily: l.daily,
      madeAt: house.now(),
      notBefore: l.notBefore,
      sentAt: null,
      tries: 0,
      trouble: null,
    }),
  );
  await insert(db, MailTable, rows);
  await orderJobs(
    house,
    db,
    rows.map((r) => ({ kind: 'mail', subject: r.id, personId: null, notBefore: r.notBefore })),
  );
  return rows.map((r) => r.id);
}

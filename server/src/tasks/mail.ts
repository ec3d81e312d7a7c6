import type { MailId } from '@jotmark/core';
import { MailTable, PersonTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, remove, update } from '../database/write.ts';
import { NotYet, type Work } from '../jobs/context.ts';
import { failJob, finishJob } from '../jobs/queue.ts';
import { compose } from '../news/compose.ts';
import { noticesOfMail } from '../news/read.ts';
import { send } from '../post/transport.ts';

const MINUTE = 60_000;
/** A mail server may be away for days. */
const GIVE_UP_MS = 4 * 24 * 60 * MINUTE;
/** Before it is tried again: longer each time, at most half an hour. */
const pause = (tries: number) => Math.min(30, 2 ** Math.min(tries, 10)) * MINUTE;

/** The job that sends one letter. A mail server that is away is tried for four days; what is wrong stands in the outbox meanwhile. */
export const mail: Work = async ({ house, job }) => {
  const db = house.db.manager;
  const id = job.subject as MailId;
  const row = await find(db, MailTable, { id });
  const person = row && (await find(db, PersonTable, { id: row.personId }));
  if (!row || !person || row.sentAt !== null) return inTransaction(house.db, (tx) => finishJob(tx, job));
  const news = row.body ? null : await noticesOfMail(db, { id: person.id, role: person.role }, id);
  // A day on which in the end nothing was to tell.
  if (news?.length === 0)
    return inTransaction(house.db, async (tx) => {
      await remove(tx, MailTable, { id });
      await finishJob(tx, job);
    });
  const letter = news ? { ...row, ...compose(news, person, house.settings) } : row;
  try {
    await send(letter, `${person.given} ${person.family}`, house.now(), house.settings);
  } catch (error) {
    const trouble = String((error as Error).message ?? error).slice(0, 300);
    await update(db, MailTable, { id }, { tries: row.tries + 1, trouble });
    if (house.now() - row.notBefore > GIVE_UP_MS) return failJob(db, job, 'unexpected');
    throw new NotYet(`the letter could not be sent: ${trouble}`, pause(row.tries));
  }
  await inTransaction(house.db, async (tx) => {
    const { subject, body } = letter;
    await update(tx, MailTable, { id }, { subject, body, sentAt: house.now(), trouble: null });
    await finishJob(tx, job);
  });
};

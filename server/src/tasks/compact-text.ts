import { CopyId, QuestionId } from '@jotmark/core';
import * as z from 'zod';
import { compactText } from '../copy/texts.ts';
import { CopyTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { lock } from '../database/write.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob } from '../jobs/queue.ts';

const About = z.object({ copyId: CopyId, question: QuestionId });

/** Puts the pieces of a text that grows together, so that it opens as fast after ten thousand keys as after ten. */
export const compactTexts: Work = async ({ house, job }) => {
  const { copyId, question } = About.parse(job.input);
  await inTransaction(house.db, async (tx) => {
    if (await lock(tx, CopyTable, { id: copyId })) await compactText(tx, copyId, question);
    await finishJob(tx, job);
  });
};

import { join } from 'node:path';
import { PageText } from '@jotmark/core';
import * as z from 'zod';
import { keepFile, writeBlobTo } from '../files/blob.ts';
import { finishJob } from '../jobs/queue.ts';
import type { JobContext } from '../jobs/runner.ts';
import { Read } from '../jobs/tasks.ts';

/** The job that reads a document on arrival: takes scripts out, keeps how its pages lie and their text. */
export async function readDocument({ house, opener, job, folder, progress }: JobContext): Promise<void> {
  const [document] = await house.db.query('SELECT sha256 FROM document WHERE id = ?', [job.subject]);
  if (!document) return finishJob(house.db, job);
  const file = join(folder, 'in.pdf');
  const out = join(folder, 'out.pdf');
  await writeBlobTo(house.db, document.sha256, file);
  const read = Read.parse(await opener.run({ op: 'read', file, out }, progress));
  const text = z.array(PageText).parse(read.text);
  const sha256 = read.cleaned
    ? (await keepFile(house.db, out, new Date(house.now()))).sha256
    : document.sha256;
  await house.db.transaction(async (tx) => {
    await tx.query('UPDATE document SET frames = ?, pages = ?, sha256 = ? WHERE id = ?', [
      JSON.stringify(read.frames),
      read.frames.length,
      sha256,
      job.subject,
    ]);
    await tx.query('REPLACE INTO document_text (document_id, pages) VALUES (?, ?)', [
      job.subject,
      JSON.stringify(text),
    ]);
    await finishJob(tx, job);
  });
}

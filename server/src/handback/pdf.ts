import { join } from 'node:path';
import { PageFrame, Snapshot } from '@jotmark/core';
import * as z from 'zod';
import { keepFile, writeBlobTo } from '../files/blob.ts';
import { tidyName } from '../files/receive.ts';
import { finishJob } from '../jobs/queue.ts';
import type { JobContext } from '../jobs/runner.ts';
import { Annotated } from '../jobs/tasks.ts';

/** The job that makes a handed-back copy one PDF with standard annotations. It reads the frozen hand-back and the file, no marking. */
export async function writeHandBackPdf({ house, opener, job, folder }: JobContext): Promise<void> {
  const [row] = await house.db.query(
    `SELECT b.content, d.id AS document_id, d.sha256, d.frames, a.title, p.given, p.family FROM hand_back b
       JOIN hand_in_document h ON h.hand_in_id = b.hand_in_id AND h.position = 0 JOIN document d ON d.id = h.document_id
       JOIN copy c ON c.id = b.copy_id JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id
     WHERE b.id = ?`,
    [job.subject],
  );
  if (!row) return finishJob(house.db, job);
  const snapshot = Snapshot.parse(JSON.parse(row.content));
  const file = join(folder, 'in.pdf');
  const out = join(folder, 'out.pdf');
  await writeBlobTo(house.db, row.sha256, file);
  Annotated.parse(
    await opener.run({
      op: 'write-marks',
      file,
      out,
      marks: snapshot.marks.filter((m) => m.document === row.document_id),
      frames: z.array(PageFrame).parse(JSON.parse(row.frames ?? '[]')),
      turns: snapshot.turns[row.document_id] ?? {},
      author: snapshot.markedBy,
    }),
  );
  const { sha256 } = await keepFile(house.db, out, new Date(house.now()));
  const name = tidyName(`${row.title} – ${row.given} ${row.family}`.replace(/[/\\]/g, '-')).replace(
    /\.pdf$/i,
    '',
  );
  await house.db.transaction(async (tx) => {
    await tx.query('REPLACE INTO hand_back_pdf (hand_back_id, sha256, name) VALUES (?, ?, ?)', [
      job.subject,
      sha256,
      `${name}, marked.pdf`,
    ]);
    await finishJob(tx, job);
  });
}

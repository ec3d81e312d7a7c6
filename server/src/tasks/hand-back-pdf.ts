import { Snapshot } from '@jotmark/core';
import type { RawRow } from '../database/raw.ts';
import { keepFile } from '../blobs/blob.ts';
import { finishJob } from '../jobs/queue.ts';
import type { JobContext } from '../jobs/runner.ts';
import { MARKED_COLUMNS, markedName, writeMarked } from './write-marked.ts';

/**
 * The job that makes a handed-back copy one PDF with standard annotations, all its documents one behind the other. It reads
 * the frozen hand-back and the files, no marking.
 */
export async function writeHandBackPdf(context: JobContext): Promise<void> {
  const { house, job, folder } = context;
  const rows: RawRow[] = await house.db.query(
    `SELECT b.content, ${MARKED_COLUMNS} FROM hand_back b
       JOIN hand_in_document h ON h.hand_in_id = b.hand_in_id JOIN document d ON d.id = h.document_id AND d.shows = 'pages' AND d.frames IS NOT NULL
       JOIN copy c ON c.id = b.copy_id JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id
       LEFT JOIN document_text t ON t.document_id = d.id WHERE b.id = ? ORDER BY h.position`,
    [job.subject],
  );
  const [row] = rows;
  if (!row) return finishJob(house.db.manager, job);
  const { marks, turns, markedBy } = Snapshot.parse(JSON.parse(row.content));
  const out = await writeMarked(context, folder, rows, { marks, turns, author: markedBy, flat: false });
  const { sha256 } = await keepFile(house.db, out, new Date(house.now()));
  const student = { given: row.given, family: row.family };
  await house.db.transaction(async (tx) => {
    await tx.query('REPLACE INTO hand_back_pdf (hand_back_id, sha256, name) VALUES (?, ?, ?)', [
      job.subject,
      sha256,
      markedName(row.title, student),
    ]);
    await finishJob(tx, job);
  });
}

import { join } from 'node:path';
import { type DocumentId, PageFrame, PageText, Snapshot } from '@jotmark/core';
import * as z from 'zod';
import type { RawRow } from '../database/raw.ts';
import { keepFile, writeBlobTo } from '../files/blob.ts';
import { joinPdfs } from '../files/qpdf.ts';
import { tidyName } from '../files/receive.ts';
import { finishJob } from '../jobs/queue.ts';
import type { JobContext } from '../jobs/runner.ts';
import { Annotated } from '../jobs/tasks.ts';

/**
 * The job that makes a handed-back copy one PDF with standard annotations, all its documents one behind the other. It reads
 * the frozen hand-back and the files, no marking.
 */
export async function writeHandBackPdf(context: JobContext): Promise<void> {
  const { house, job, folder } = context;
  const rows: RawRow[] = await house.db.query(
    `SELECT b.content, d.filled_from, t.pages AS text, d.id AS document_id, d.sha256, d.frames, a.title, p.given, p.family FROM hand_back b
       JOIN hand_in_document h ON h.hand_in_id = b.hand_in_id JOIN document d ON d.id = h.document_id AND d.shows = 'pages' AND d.frames IS NOT NULL
       JOIN copy c ON c.id = b.copy_id JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id
       LEFT JOIN document_text t ON t.document_id = d.id WHERE b.id = ? ORDER BY h.position`,
    [job.subject],
  );
  const [row] = rows;
  if (!row) return finishJob(house.db.manager, job);
  const snapshot = Snapshot.parse(JSON.parse(row.content));
  const written: string[] = [];
  for (const [i, document] of rows.entries()) written.push(await writeOne(context, document, snapshot, i));
  const out = written.length === 1 ? written[0]! : join(folder, 'all.pdf');
  if (written.length > 1) await joinPdfs(written, out);
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

async function writeOne(
  { house, opener, folder }: JobContext,
  document: RawRow,
  snapshot: Snapshot,
  n: number,
): Promise<string> {
  const file = join(folder, `in${n}.pdf`);
  const out = join(folder, `out${n}.pdf`);
  await writeBlobTo(house.db, document.sha256, file);
  Annotated.parse(
    await opener.run({
      op: 'write-marks',
      file,
      out,
      marks: snapshot.marks.filter((m) => m.document === document.document_id),
      frames: z.array(PageFrame).parse(JSON.parse(document.frames)),
      turns: snapshot.turns[document.document_id as DocumentId] ?? {},
      author: snapshot.markedBy,
      name: document.filled_from
        ? {
            name: `${document.given} ${document.family}`.trim(),
            text: document.text ? z.array(PageText).parse(JSON.parse(document.text)) : [],
          }
        : null,
    }),
  );
  return out;
}

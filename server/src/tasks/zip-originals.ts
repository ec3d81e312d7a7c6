import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { finished } from 'node:stream/promises';
import type { AssignmentId, CopyId, JobId, Person } from '@jotmark/core';
import { ZipArchive } from 'archiver';
import type { RawRow } from '../database/raw.ts';
import { blobSize, keepFile, readBlob } from '../blobs/blob.ts';
import { tidyName } from '../http/receive.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';
import { finishJob, orderJob, PROGRESS_COLUMNS, progressOf } from '../jobs/queue.ts';
import type { JobContext } from '../jobs/runner.ts';
import { BLIND_COLUMN, blindFileName, shownStudent } from '../people/blind.ts';

/** Orders one zip of what these copies brought along: the originals, in a folder for each student. Gives its job. */
export async function orderZip(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  copyIds: readonly CopyId[],
): Promise<JobId> {
  const id = newId<string>(house);
  const [a] = await house.db.query(
    'SELECT a.title, k.name FROM assignment a JOIN school_class k ON k.id = a.class_id WHERE a.id = ?',
    [assignmentId],
  );
  await house.db.query(
    'INSERT INTO zip_order (id, assignment_id, by_id, copy_ids, name, created_at) VALUES (?, ?, ?, ?, ?, ?)',
    [
      id,
      assignmentId,
      person.id,
      JSON.stringify(copyIds),
      folderName(`${a.name}, ${a.title}`),
      new Date(house.now()),
    ],
  );
  return orderJob(house, house.db.manager, 'zip-originals', id);
}

const folderName = (text: string) => tidyName(text.replace(/[/\\]/g, '-')).slice(0, 120);

/** The job that writes it. Nothing is unpacked or opened: bytes go from the database into the zip as they came. */
export async function writeZip({ house, job, folder, progress }: JobContext): Promise<void> {
  const [order] = await house.db.query('SELECT assignment_id, copy_ids FROM zip_order WHERE id = ?', [
    job.subject,
  ]);
  if (!order) return finishJob(house.db.manager, job);
  const files: RawRow[] = await house.db.query(
    `SELECT c.id AS copy_id, p.given, p.family, ${BLIND_COLUMN}, hd.position, d.name, COALESCE(d.original_sha256, d.sha256) AS sha256, d.filled_from, d.url
     FROM copy c JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id
       JOIN hand_in h ON h.copy_id = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)
       JOIN hand_in_document hd ON hd.hand_in_id = h.id JOIN document d ON d.id = hd.document_id
     WHERE c.assignment_id = ? AND c.id IN (?) ORDER BY p.family, p.given, c.id, hd.position`,
    [order.assignment_id, JSON.parse(order.copy_ids)],
  );
  const path = join(folder, 'all.zip');
  const zip = new ZipArchive({ store: true });
  const out = createWriteStream(path);
  zip.pipe(out);
  for (const [i, file] of files.entries()) {
    const student = shownStudent(file);
    const name = Number(file.is_blind) ? blindFileName(file.name, file.position) : file.name;
    const entry = `${folderName(`${student.family}, ${student.given}`)}/${file.position + 1} ${folderName(name)}`;
    if (file.url) zip.append(`[InternetShortcut]\r\nURL=${file.url}\r\n`, { name: `${entry}.url` });
    else if (file.sha256) {
      const bytes = readBlob(house.db, file.sha256, 0, (await blobSize(house.db, file.sha256)) - 1);
      zip.append(Readable.from(bytes), { name: file.filled_from ? `${entry}.pdf` : entry });
    }
    progress(i, files.length);
  }
  await Promise.all([zip.finalize(), finished(out)]);
  const { sha256 } = await keepFile(house.db, path, new Date(house.now()));
  await house.db.transaction(async (tx) => {
    await tx.query('UPDATE zip_order SET sha256 = ? WHERE id = ?', [sha256, job.subject]);
    await finishJob(tx, job);
  });
}

/** The teacher's own order of a zip, by its job; somebody else's is not found. */
export async function ownZip(house: House, person: Person, jobId: JobId) {
  const [row] = await house.db.query(
    `SELECT z.sha256, z.name, ${PROGRESS_COLUMNS} FROM job j JOIN zip_order z ON z.id = j.subject WHERE j.id = ? AND j.kind = 'zip-originals' AND z.by_id = ?`,
    [jobId, person.id],
  );
  if (!row) throw new Fault('not-found');
  return { sha256: row.sha256 as string | null, name: `${row.name}.zip`, progress: progressOf(row) };
}

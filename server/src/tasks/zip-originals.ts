import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import { AssignmentId, CopyId, compareNames, type JobId, type Person, seenName } from '@jotmark/core';
import { ZipArchive } from 'archiver';
import * as z from 'zod';
import { assignmentTop } from '../assignment/head.ts';
import { keepFile, streamOf } from '../blobs/blob.ts';
import { folderName } from '../blobs/file-name.ts';
import { CopyTable, HandInDocumentTable, HandInTable, JobFileTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { insert } from '../database/write.ts';
import type { House } from '../house.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob, orderJob } from '../jobs/queue.ts';
import { blindFileName, studentsOf } from '../people/students.ts';

const Input = z.object({ assignmentId: AssignmentId, copyIds: z.array(CopyId) });

/** Orders one zip of what these copies brought along: the originals, in a folder for each student. */
export async function orderZip(
  house: House,
  person: Person,
  assignmentId: AssignmentId,
  copyIds: CopyId[],
): Promise<JobId> {
  const input: z.infer<typeof Input> = { assignmentId, copyIds };
  return orderJob(house, house.db.manager, {
    kind: 'zip-originals',
    subject: null,
    personId: person.id,
    awaited: true,
    // Many files: it goes behind what is small.
    size: copyIds.length * 1024 ** 2,
    input,
  });
}

/** The job that writes it. Nothing is unpacked or opened: bytes go from the database into the zip as they came. */
export const zipOriginals: Work = async ({ house, job, folder, progress }) => {
  const db = house.db.manager;
  const { assignmentId, copyIds } = Input.parse(job.input);
  const { assignment } = await assignmentTop(db, assignmentId, house.now());
  const files = await originals(db, assignmentId, copyIds);
  const students = await studentsOf(db, copyIds);
  const folderOf = (copyId: CopyId) => {
    const { family, given } = seenName(students.get(copyId)!);
    return folderName([family, given].filter(Boolean).join(', '));
  };
  files.sort((a, b) => compareNames(folderOf(a.copyId), folderOf(b.copyId)) || a.position - b.position);
  const path = join(folder, 'all.zip');
  const zip = new ZipArchive({ store: true });
  const out = createWriteStream(path);
  zip.pipe(out);
  for (const [i, file] of files.entries()) {
    const blind = students.get(file.copyId)!.blind;
    const name = blind ? blindFileName(file.name, file.position, file.url !== null) : file.name;
    const entry = `${folderOf(file.copyId)}/${file.position + 1} ${folderName(name)}`;
    if (file.url) zip.append(`[InternetShortcut]\r\nURL=${file.url}\r\n`, { name: `${entry}.url` });
    else if (file.sha256)
      zip.append(streamOf(db, file.sha256), { name: file.filledFrom ? `${entry}.pdf` : entry });
    progress(i, files.length);
  }
  await Promise.all([zip.finalize(), finished(out)]);
  const { sha256 } = await keepFile(house.db, path, house.now());
  const name = `${folderName(`${assignment.className}, ${assignment.title}`)}.zip`;
  await inTransaction(house.db, async (tx) => {
    await finishJob(tx, job);
    await insert(tx, JobFileTable, { jobId: job.id, position: 0, name, sha256 });
  });
};

/** What the newest hand-ins of these copies brought along. */
const originals = (db: Db, assignmentId: AssignmentId, copyIds: readonly CopyId[]) =>
  pick(
    db
      .createQueryBuilder(CopyTable, 'c')
      .innerJoin(
        HandInTable.table,
        'h',
        'h.copyId = c.id AND h.number = (SELECT MAX(n.number) FROM hand_in n WHERE n.copy_id = c.id)',
      )
      .innerJoin(HandInDocumentTable.table, 'x', 'x.handInId = h.id')
      .innerJoin('x.document', 'd')
      .where('c.assignmentId = :assignmentId AND c.id IN (:...copyIds)', { assignmentId, copyIds }),
    {
      copyId: col('c.id', as.id<CopyId>()),
      position: col('x.position', as.int),
      name: col('d.name', as.text),
      sha256: col('COALESCE(d.originalSha256, d.sha256)', as.maybe(as.text)),
      filledFrom: col('d.filledFrom', as.maybe(as.text)),
      url: col('d.url', as.maybe(as.text)),
    },
  );

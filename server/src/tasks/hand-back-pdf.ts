import { type HandBackId, type JobId, type Person, realName } from '@jotmark/core';
import { keepFile } from '../blobs/blob.ts';
import { AssignmentTable, HandBackPdfTable, HandBackTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insertOrUpdate } from '../database/write.ts';
import type { House } from '../house.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob, orderJob } from '../jobs/queue.ts';
import type { Opener } from '../opening/opener.ts';
import { whose } from '../people/students.ts';
import { markedFilms, markedName, pagedDocuments, writeMarked } from './write-marked.ts';

/** Orders that a hand-back be made one PDF; however often it is asked for it is made once. */
export const orderHandBackPdf = (house: House, person: Person, id: HandBackId): Promise<JobId> =>
  orderJob(house, house.db.manager, {
    kind: 'hand-back-pdf',
    subject: id,
    personId: person.id,
    awaited: true,
  });

/**
 * The job that makes a handed-back copy one PDF with standard annotations, all its documents one behind the other. It reads
 * the frozen hand-back and the files, no marking.
 */
export const handBackPdf =
  (opener: Opener): Work =>
  async (context) => {
    const { house, job } = context;
    const db = house.db.manager;
    const handBackId = job.subject as HandBackId;
    const back = await find(db, HandBackTable, { id: handBackId });
    const students = back && (await whose(db, back.copyId));
    const documents = back?.handInId ? await pagedDocuments(db, back.handInId) : [];
    const films = back?.handInId ? await markedFilms(db, back.handInId, back.content.marks, false) : [];
    if (!back || !students || documents.length + films.length === 0)
      return inTransaction(house.db, (tx) => finishJob(tx, job));
    const { marks, voice, turns, markedBy } = back.content;
    const student = realName(students.students);
    const out = await writeMarked(context, opener, documents, {
      marks,
      films,
      about: voice ?? null,
      turns,
      author: markedBy,
      flat: false,
      student,
    });
    const { title } = (await find(db, AssignmentTable, { id: students.assignmentId }))!;
    const { sha256 } = await keepFile(house.db, out, house.now());
    await inTransaction(house.db, async (tx) => {
      const name = markedName(title, student);
      await insertOrUpdate(tx, HandBackPdfTable, { handBackId, sha256, name }, ['sha256', 'name']);
      await finishJob(tx, job);
    });
  };

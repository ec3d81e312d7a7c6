import { HandInId, type JobId, type Person, seenName } from '@jotmark/core';
import * as z from 'zod';
import { keepFile } from '../blobs/blob.ts';
import { AssignmentTable, HandInTable, JobFileTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert } from '../database/write.ts';
import { turnsIn } from '../document/pages.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob, orderJob } from '../jobs/queue.ts';
import { readMarking } from '../marking/state.ts';
import type { Opener } from '../opening/opener.ts';
import { whose } from '../people/students.ts';
import { joined, markedFilms, markedName, pagedDocuments, writeMarked } from './write-marked.ts';

const Input = z.object({ handInId: HandInId, as: z.enum(['notes', 'flat']), author: z.string() });

/** Orders the copy as it is marked now as a PDF, to work on elsewhere or to print. */
export async function orderMarkedPdf(
  house: House,
  person: Person,
  handInId: HandInId,
  as: 'notes' | 'flat',
): Promise<JobId> {
  const input: z.infer<typeof Input> = { handInId, as, author: `${person.given} ${person.family}` };
  return orderJob(house, house.db.manager, {
    kind: 'marked-pdf',
    subject: null,
    personId: person.id,
    awaited: true,
    input,
  });
}

/** The job that writes it. In a blind pile no page and no name says whose it is. */
export const markedPdf =
  (opener: Opener): Work =>
  async (context) => {
    const { house, job } = context;
    const db = house.db.manager;
    const { handInId, as, author } = Input.parse(job.input);
    const handIn = await find(db, HandInTable, { id: handInId });
    const students = handIn && (await whose(db, handIn.copyId));
    const documents = await pagedDocuments(db, handInId);
    const marking = await readMarking(db, handInId);
    const marks = marking.marks.flatMap((m) => m.mark ?? []);
    const films = await markedFilms(db, handInId, marks, students?.blind ?? true);
    if (!students || documents.length + films.length === 0) throw new Fault('not-found');
    const student = seenName(students);
    const files = await writeMarked(context, opener, documents, {
      marks,
      films,
      about: marking.slip.voice.value,
      turns: await turnsIn(db, handInId),
      author,
      flat: as === 'flat',
      student,
    });
    const { title } = (await find(db, AssignmentTable, { id: students.assignmentId }))!;
    const { sha256 } = await keepFile(house.db, await joined(context, files), house.now());
    await inTransaction(house.db, async (tx) => {
      await finishJob(tx, job);
      await insert(tx, JobFileTable, {
        jobId: job.id,
        position: 0,
        name: markedName(title, student, as === 'flat' ? 'to print' : 'marked'),
        sha256,
      });
    });
  };

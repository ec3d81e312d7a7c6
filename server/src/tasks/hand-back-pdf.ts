import {
  closedOf,
  coverSheet,
  fullName,
  type HandBackId,
  type JobId,
  type Person,
  paperDay,
  realName,
} from '@jotmark/core';
import { keepFile } from '../blobs/blob.ts';
import {
  AssignmentTable,
  type HandBackPdfRow,
  HandBackPdfTable,
  HandBackTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insertOrUpdate } from '../database/write.ts';
import { openedOf } from '../hand-back/opened.ts';
import type { House } from '../house.ts';
import type { Work } from '../jobs/context.ts';
import { finishJob, orderJob } from '../jobs/queue.ts';
import type { Opener } from '../opening/opener.ts';
import { whose } from '../people/students.ts';
import { joined, markedFilms, markedName, pagedDocuments, writeCover, writeMarked } from './write-marked.ts';

/** Orders that a hand-back be made one PDF; however often it is asked for it is made once. */
export const orderHandBackPdf = (house: House, person: Person, id: HandBackId): Promise<JobId> =>
  orderJob(house, house.db.manager, {
    kind: 'hand-back-pdf',
    subject: id,
    personId: person.id,
    awaited: true,
  });

/**
 * The job that makes a handed-back copy one PDF with standard annotations, a cover sheet in front of all its documents. It reads the frozen hand-back and
 * the files, no marking. Where the grade shows after reading it makes two: which one somebody gets is told when they fetch it.
 */
export const handBackPdf =
  (opener: Opener): Work =>
  async (context) => {
    const { house, job } = context;
    const db = house.db.manager;
    const handBackId = job.subject as HandBackId;
    const back = await find(db, HandBackTable, { id: handBackId });
    const students = back && (await whose(db, back.copyId));
    if (!back || !students) return inTransaction(house.db, (tx) => finishJob(tx, job));
    const { content, handInId } = back;
    const student = realName(students.students);
    const author = content.markedBy;
    const films = handInId ? await markedFilms(db, handInId, content.marks, false) : [];
    const pages = await writeMarked(context, opener, handInId ? await pagedDocuments(db, handInId) : [], {
      marks: content.marks,
      films,
      about: null,
      turns: content.turns,
      author,
      flat: false,
      student,
    });
    const { title } = (await find(db, AssignmentTable, { id: students.assignmentId }))!;
    const under = `${fullName(student)} · marked by ${author}, ${paperDay(back.handedBackAt, house.settings.school.timeZone)}`;
    const name = markedName(title, student);
    const made: HandBackPdfRow[] = [];
    // A member of a group whose grade is their own gets the one without: there the group's would stand.
    for (const graded of content.gradeAfter || content.own ? [true, false] : [true]) {
      const sheet = coverSheet(content, { title, under, graded });
      const cover = await writeCover(context, opener, `cover-${graded}`, {
        sheet,
        author,
        about: content.voice ?? null,
      });
      const all = await joined(context, [cover, ...pages], `all-${graded}`);
      const { sha256 } = await keepFile(house.db, all, house.now());
      made.push({ handBackId, graded, sha256, name });
    }
    await inTransaction(house.db, async (tx) => {
      await insertOrUpdate(tx, HandBackPdfTable, made, ['sha256', 'name']);
      await finishJob(tx, job);
    });
  };

/** The PDF of a hand-back for one of its students: as long as its grade waits for notes to be opened, the one without it. Null: none is made yet. */
export async function pdfFor(db: Db, person: Person, handBackId: HandBackId): Promise<HandBackPdfRow | null> {
  const back = await find(db, HandBackTable, { id: handBackId });
  const graded =
    !!back &&
    back.content.own?.[person.id] === undefined &&
    closedOf(back.content, await openedOf(db, handBackId, person.id)) === 0;
  return find(db, HandBackPdfTable, { handBackId, graded });
}

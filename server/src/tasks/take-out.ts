import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type ClassId,
  type CopyId,
  type CoverSheet,
  fullName,
  type JobId,
  logGrids,
  logSheet,
  type OutOrder,
  type Person,
  type PersonId,
  paperDay,
  registerName,
  seenName,
  writeCsv,
  writeOneRoster,
  writeWebAnnotations,
} from '@jotmark/core';
import { In, IsNull, Not } from 'typeorm';
import { keepFile, streamOf } from '../blobs/blob.ts';
import { folderName } from '../blobs/file-name.ts';
import {
  AssignmentTable,
  ClassTable,
  CopyMemberTable,
  DocumentTable,
  HandInTable,
  JobFileTable,
  MembershipTable,
  PersonTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { inTransaction } from '../database/transaction.ts';
import { find, insert } from '../database/write.ts';
import { Fault } from '../fault.ts';
import type { JobContext, Work } from '../jobs/context.ts';
import { finishJob } from '../jobs/queue.ts';
import { logFor, readLog } from '../log/log.ts';
import { reportsOf } from '../log/report.ts';
import { readMarking } from '../marking/state.ts';
import type { Opener } from '../opening/opener.ts';
import { personOf } from '../people/person.ts';
import { whose } from '../people/students.ts';
import { sheetFile } from '../sheets/sheet-file.ts';
import { archiveClass, asText } from '../take-out/archive.ts';
import { ZipFolder } from '../take-out/folder.ts';
import { OutInput } from '../take-out/order.ts';
import { OF_STUDENT, rowsOf } from '../take-out/record.ts';
import { rosterOf } from '../take-out/roster.ts';
import { reportsIn, tablesOf } from '../take-out/tables.ts';
import { bareId, pagesToAnnotate } from './bring-in.ts';
import { INDEX_HEAD, pileIntoZip, pileToPrint } from './out-copies.ts';
import { outMine } from './out-mine.ts';
import { joined, pagedDocuments, writeCover, writeMarked } from './write-marked.ts';

interface Made {
  readonly path: string;
  /** With its ending. */
  readonly name: string;
}

/** The job that makes what was ordered to be taken out, as one file. Killed in the middle it begins anew; stopped it leaves nothing. */
export const takeOut =
  (opener: Opener): Work =>
  async (context) => {
    const { house, job } = context;
    const input = OutInput.parse(job.input);
    const { path, name } = await roomOnDisk(async () => {
      const row = await find(house.db.manager, PersonTable, { id: input.personId });
      if (!row) throw new Fault('not-found');
      return input.by === 'student'
        ? outMine(context, opener, personOf(row))
        : make(context, opener, personOf(row), input.order);
    });
    const { sha256 } = await roomOnDisk(() => keepFile(house.db, path, house.now()));
    await inTransaction(house.db, async (tx) => {
      await finishJob(tx, job);
      await insert(tx, JobFileTable, { jobId: job.id as JobId, position: 0, name: fileName(name), sha256 });
    });
  };

/** Its ending stays, however long the name is. */
const fileName = (name: string): string => {
  const ending = /\.[a-z]+$/.exec(name)?.[0] ?? '';
  return `${folderName(name.slice(0, name.length - ending.length))}${ending}`;
};

/** A full disk is nothing that another try would mend. */
export async function roomOnDisk<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if ((error as NodeJS.ErrnoException)?.code === 'ENOSPC') throw new Fault('disk-full');
    throw error;
  }
}

async function make(context: JobContext, opener: Opener, person: Person, order: OutOrder): Promise<Made> {
  switch (order.what) {
    case 'mark-book':
    case 'logs':
    case 'log':
    case 'scores':
      return sheet(context, person, order, order.as);
    case 'reports':
      return order.as === 'pdf'
        ? reportsPdf(context, opener, person, order)
        : sheet(context, person, order, order.as);
    case 'log-sheet':
      return logPdf(context, opener, person, order);
    case 'pile':
      return order.as === 'zip'
        ? pileZip(context, opener, person, order)
        : pileToPrint(context, opener, { ...order, person, as: WRITTEN_AS[order.as] });
    case 'copy': {
      const db = context.house.db.manager;
      const handIn = await find(db, HandInTable, { id: order.handInId });
      const copy = handIn && (await whose(db, handIn.copyId));
      if (!copy) throw new Fault('not-found');
      const { path, name } = await pileToPrint(context, opener, {
        person,
        assignmentId: copy.assignmentId,
        copyIds: [copy.copyId],
        as: WRITTEN_AS[order.as],
      });
      return { path, name: name.replace(', to print', `, ${fullName(seenName(copy))}`) };
    }
    case 'class':
      return classZip(context, opener, person, order);
    case 'marks':
      return marksFile(context, opener, person, order);
    case 'student':
      return studentZip(context, order);
    case 'archive':
      return archiveZip(context, order);
    case 'roster':
      return rosterZip(context, order);
  }
}

/** How a copy is written for what it is wanted for. */
const WRITTEN_AS = {
  pdf: 'notes',
  print: 'flat',
  'print-beside': 'beside',
  'print-unmarked': 'bare',
} as const;

type Of<W extends OutOrder['what']> = Extract<OutOrder, { what: W }>;

async function sheet(
  { house, folder }: JobContext,
  person: Person,
  order: Parameters<typeof tablesOf>[2],
  kind: 'csv' | 'xlsx' | 'ods',
): Promise<Made> {
  const { name, grids } = await tablesOf(house, person, order);
  // A CSV file holds one table.
  if (kind === 'csv' && grids.length > 1) {
    const path = join(folder, 'tables.zip');
    const zip = new ZipFolder(path);
    for (const grid of grids) await zip.addTable([], `${grid.name}.csv`, grid);
    await zip.end();
    return { path, name: `${name}.zip` };
  }
  const path = join(folder, `sheet.${kind}`);
  await writeFile(path, await sheetFile(grids, kind));
  return { path, name: `${name}.${kind}` };
}

const asSheet = (context: JobContext, opener: Opener, person: Person, name: string, sheet: CoverSheet) =>
  writeCover(context, opener, name, { sheet, author: fullName(person), about: null });

async function logPdf(
  context: JobContext,
  opener: Opener,
  person: Person,
  { classId, personId, parts, term }: Of<'log-sheet'>,
): Promise<Made> {
  const { house } = context;
  const { timeZone } = house.settings.school;
  const log = await readLog(house, person, classId, personId);
  const report = term ? (await reportsOf(house, classId, personId)).find((r) => r.term === term) : undefined;
  const path = await asSheet(
    context,
    opener,
    person,
    'log',
    logSheet(log, {
      parts,
      day: (at) => paperDay(at, timeZone),
      under: `${log.className} · ${house.settings.school.name} · ${paperDay(house.now(), timeZone)}`,
      report: report?.words ?? '',
    }),
  );
  return { path, name: `${registerName(log.student)}, feedback log.pdf` };
}

async function reportsPdf(
  context: JobContext,
  opener: Opener,
  person: Person,
  { classId, term }: Of<'reports'>,
): Promise<Made> {
  const db = context.house.db.manager;
  const className = (await find(db, ClassTable, { id: classId }))?.name ?? '';
  const written = (await reportsIn(db, classId, term)).filter((r) => r.words.trim());
  if (written.length === 0) throw new Fault('nothing-to-take-out');
  const files: string[] = [];
  for (const [i, r] of written.entries()) {
    context.progress(i, written.length);
    const parts = [{ heading: '', hand: false, lines: [{ text: r.words, value: '' }] }];
    files.push(
      await asSheet(context, opener, person, `report${i}`, {
        title: fullName(r),
        under: `${className} · ${term}`,
        parts,
      }),
    );
  }
  return { path: await joined(context, files), name: `${className}, reports, ${term}.pdf` };
}

async function pileZip(
  context: JobContext,
  opener: Opener,
  person: Person,
  { assignmentId, copyIds }: Of<'pile'>,
): Promise<Made> {
  const a = await find(context.house.db.manager, AssignmentTable, { id: assignmentId });
  const path = join(context.folder, 'pile.zip');
  const zip = new ZipFolder(path);
  const rows = await pileIntoZip(
    context,
    opener,
    zip,
    { person, assignmentId, copyIds, folders: [] },
    { done: 0, total: 0 },
  );
  if (rows.length === 0) throw new Fault('nothing-to-take-out');
  await zip.addTable([], 'index.csv', { name: 'Index', head: INDEX_HEAD, rows });
  const scores = await tablesOf(context.house, person, { what: 'scores', assignmentId, as: 'csv' });
  await zip.addTable([], 'scores.csv', scores.grids[0]!);
  await zip.end();
  return { path, name: `${a?.title ?? 'Pile'}.zip` };
}

/** The marks of a hand-in, as other programs read them; they say for which hand-in they are. */
async function marksFile(
  context: JobContext,
  opener: Opener,
  person: Person,
  { handInId, as }: Of<'marks'>,
): Promise<Made> {
  const { house, folder, budget } = context;
  const db = house.db.manager;
  const handIn = await find(db, HandInTable, { id: handInId });
  const students = handIn && (await whose(db, handIn.copyId));
  if (!students) throw new Fault('not-found');
  const student = seenName(students);
  const { title } = (await find(db, AssignmentTable, { id: students.assignmentId }))!;
  const name = `${title} – ${fullName(student)}`;
  const documents = await pagedDocuments(db, handInId);
  const { marks: all } = await readMarking(db, handInId);
  const marks = all.flatMap((m) => m.mark ?? []);
  const path = join(folder, `marks.${as}`);
  if (as === 'jsonld') {
    const author = fullName(person);
    const told = writeWebAnnotations(marks, {
      author,
      id: handInId,
      documents: documents.map(pagesToAnnotate),
    });
    await writeFile(path, `${JSON.stringify(told, null, 1)}\n`);
    return { path, name: `${name}.jsonld` };
  }
  if (documents.length === 0) throw new Fault('nothing-to-take-out');
  const files = await writeMarked(context, opener, documents, {
    marks,
    films: [],
    about: null,
    turns: {},
    author: fullName(person),
    flat: false,
    student,
  });
  const file = await joined(context, files);
  await opener.run(
    { op: 'xfdf-out', file, out: path, name: `${name}.pdf`, ids: bareId(handInId).toUpperCase() },
    budget,
  );
  return { path, name: `${name}.xfdf` };
}

async function archiveZip(
  { house, folder, progress }: JobContext,
  { classId }: Of<'archive'>,
): Promise<Made> {
  const path = join(folder, 'archive.zip');
  const zip = new ZipFolder(path);
  const { className } = await archiveClass(house.db.manager, zip, classId, house.now(), progress);
  await zip.end();
  return { path, name: `${className}, archive.zip` };
}

/** All that there is of a student, as tables of values and the files they handed in and got. */
async function studentZip(
  { house, folder, progress }: JobContext,
  { classId, personId }: Of<'student'>,
): Promise<Made> {
  const db = house.db.manager;
  const member = await find(db, MembershipTable, { classId, personId, role: 'student' });
  const row = member && (await find(db, PersonTable, { id: personId }));
  if (!row) throw new Fault('not-found');
  const path = join(folder, 'student.zip');
  const zip = new ZipFolder(path);
  for (const part of OF_STUDENT) {
    const text = JSON.stringify(await rowsOf(db, part, { classId, personId }), asText, 1);
    await zip.add(['data'], `${part.table.table}.json`, Buffer.from(text, 'utf8'));
  }
  const files = (
    await db
      .getRepository(DocumentTable)
      .find({ where: { copyId: In(await ownCopies(db, classId, personId)) } })
  ).flatMap((d) => (d.originalSha256 ? [{ name: d.name, sha256: d.originalSha256 }] : []));
  for (const [i, f] of files.entries()) {
    progress(i, files.length);
    await zip.add(['files'], f.name, streamOf(db, f.sha256));
  }
  const [feedback, notes] = logGrids([await logFor(db, classId, personId)]);
  await zip.addTable([], 'feedback.csv', feedback!);
  await zip.addTable([], 'notes.csv', notes!);
  await zip.end();
  return { path, name: `${registerName(personOf(row))}, all data.zip` };
}

const ownCopies = async (db: Db, classId: ClassId, personId: PersonId): Promise<CopyId[]> => {
  const rows = await pick(
    db
      .createQueryBuilder(CopyMemberTable, 'cm')
      .innerJoin('cm.copy', 'c')
      .innerJoin('c.assignment', 'a')
      .where('cm.personId = :personId AND a.classId = :classId', { personId, classId }),
    { id: col('c.id', as.id<CopyId>()) },
  );
  return rows.map((r) => r.id);
};

async function rosterZip({ house, folder }: JobContext, { classId }: Of<'roster'>): Promise<Made> {
  const roster = await rosterOf(house, classId);
  const path = join(folder, 'roster.zip');
  const zip = new ZipFolder(path);
  // As the standard has them: no mark of the order of bytes before the first name.
  for (const [name, lines] of writeOneRoster(roster))
    await zip.add([], name, Buffer.from(writeCsv(lines).replace(/^\ufeff/, ''), 'utf8'));
  await zip.end();
  return { path, name: `${roster.className}, OneRoster.zip` };
}

async function classZip(
  context: JobContext,
  opener: Opener,
  person: Person,
  { classId }: Of<'class'>,
): Promise<Made> {
  const db = context.house.db.manager;
  const className = (await find(db, ClassTable, { id: classId }))?.name ?? 'Class';
  const works = await db
    .getRepository(AssignmentTable)
    .find({ where: { classId, opensAt: Not(IsNull()), trialOf: IsNull() }, order: { opensAt: 'ASC' } });
  const path = join(context.folder, 'class.zip');
  const zip = new ZipFolder(path);
  const counted = { done: 0, total: 0 };
  const rows = [];
  for (const { id, title } of works)
    rows.push(
      ...(await pileIntoZip(
        context,
        opener,
        zip,
        { person, assignmentId: id, copyIds: null, folders: [className, title] },
        counted,
      )),
    );
  await zip.addTable([className], 'index.csv', { name: 'Index', head: INDEX_HEAD, rows });
  const book = await tablesOf(context.house, person, { what: 'mark-book', classId, as: 'csv' });
  await zip.addTable([className], 'mark book.csv', book.grids[0]!);
  await zip.end();
  return { path, name: `${className}.zip` };
}

import { mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type AssignmentId,
  type CopyId,
  coverSheet,
  fullName,
  type HandInId,
  type OutGrid,
  type Person,
  type PileRow,
  PLAIN_HAND_BACK,
  paperDay,
  registerName,
} from '@jotmark/core';
import { streamOf, writeBlobTo } from '../blobs/blob.ts';
import { DocumentTable, HandInDocumentTable } from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { turnsIn } from '../document/pages.ts';
import { Fault } from '../fault.ts';
import { asStudent } from '../hand-back/as-student.ts';
import type { JobContext } from '../jobs/context.ts';
import { readMarking } from '../marking/state.ts';
import type { Opener } from '../opening/opener.ts';
import { blindFileName, whose } from '../people/students.ts';
import { readPile } from '../pile/pile.ts';
import type { ZipFolder } from '../take-out/folder.ts';
import { joined, markedFilms, pagedDocuments, writeCover, writeMarked } from './write-marked.ts';

/** Copies that are written at once: as many as processes are kept for opening files. */
const AT_ONCE = 2;

/** How a copy goes out: with its marks to be worked on, flat with the notes on an extra page or beside the page, or bare as it came in. */
export type CopyAs = 'notes' | 'flat' | 'beside' | 'bare';

export interface CopyOut {
  readonly row: PileRow;
  readonly title: string;
  readonly className: string;
  /** One PDF; null: nothing of it has pages. */
  readonly pdf: string | null;
}

interface Wanted {
  readonly person: Person;
  readonly assignmentId: AssignmentId;
  readonly copyIds: readonly CopyId[] | null;
  readonly as: CopyAs;
}

/**
 * Writes the copies of a pile as PDFs, two at a time, and hands each over in the order of the pile. What was handed over may be deleted from the disk then. Gives what
 * the pile knows of each.
 */
export async function eachCopy(
  context: JobContext,
  opener: Opener,
  wanted: Wanted,
  take: (copy: CopyOut) => Promise<void>,
  counted: { done: number; total: number },
): Promise<void> {
  const pile = await readPile(context.house, wanted.person, wanted.assignmentId);
  const some = wanted.copyIds && new Set(wanted.copyIds);
  const rows = pile.rows.filter((r) => r.handInId && (!some || some.has(r.copyId)));
  counted.total += rows.length;
  const { title, className } = pile.assignment;
  for (let i = 0; i < rows.length; i += AT_ONCE) {
    const written = await Promise.all(
      rows.slice(i, i + AT_ONCE).map(async (row) => {
        const folder = join(context.folder, row.copyId);
        await mkdir(folder, { recursive: true });
        const quiet = { ...context, folder, progress: () => {} };
        return { row, folder, pdf: await copyPdf(quiet, opener, wanted, title, row) };
      }),
    );
    for (const { row, folder, pdf } of written) {
      await take({ row, title, className, pdf });
      await rm(folder, { recursive: true, force: true });
      context.progress(++counted.done, counted.total);
    }
  }
}

/** One copy as one PDF, with a cover sheet where it is marked. */
async function copyPdf(
  context: JobContext,
  opener: Opener,
  { person, as }: Wanted,
  title: string,
  row: PileRow,
): Promise<string | null> {
  const { house } = context;
  const db = house.db.manager;
  const handInId = row.handInId!;
  const documents = await pagedDocuments(db, handInId);
  const students = await whose(db, row.copyId);
  const author = fullName(person);
  const marking = as === 'bare' ? null : await readMarking(db, handInId);
  const marks = marking?.marks.flatMap((m) => m.mark ?? []) ?? [];
  const films = marking ? await markedFilms(db, handInId, marks, students?.blind ?? true) : [];
  if (documents.length + films.length === 0) return null;
  if (!marking) {
    const files: string[] = [];
    for (const [n, d] of documents.entries()) {
      const file = join(context.folder, `bare${n}.pdf`);
      await writeBlobTo(db, d.sha256!, file);
      files.push(file);
    }
    return joined(context, files, 'bare');
  }
  const pages = await writeMarked(context, opener, documents, {
    marks,
    films,
    about: null,
    turns: await turnsIn(db, handInId),
    author,
    flat: as !== 'notes',
    beside: as === 'beside',
    student: row.student,
  });
  if (row.place === 'in' || row.place === 'in-again') return joined(context, pages);
  const { snapshot } = await asStudent(house, person, row.copyId, PLAIN_HAND_BACK);
  const at = paperDay(row.handedInAt ?? house.now(), house.settings.school.timeZone);
  const sheet = coverSheet(snapshot, {
    title,
    under: `${fullName(row.student)} · handed in ${at} · marked by ${snapshot.markedBy}`,
    graded: true,
  });
  const cover = await writeCover(context, opener, 'cover', {
    sheet,
    author,
    about: as === 'notes' ? (snapshot.voice ?? null) : null,
  });
  return joined(context, [cover, ...pages]);
}

/** Puts the copies of a pile into folders of a zip, a folder a student: the marked PDF, and the files as they came. Gives a line of the index each. */
export async function pileIntoZip(
  context: JobContext,
  opener: Opener,
  zip: ZipFolder,
  about: Pick<Wanted, 'person' | 'assignmentId' | 'copyIds'> & { readonly folders: readonly string[] },
  counted: { done: number; total: number },
): Promise<OutGrid['rows'][number][]> {
  const db = context.house.db.manager;
  const lines: OutGrid['rows'][number][] = [];
  await eachCopy(
    context,
    opener,
    { ...about, as: 'notes' },
    async ({ row, title, pdf }) => {
      const student = registerName(row.student);
      const folders = [...about.folders, student];
      const paths: string[] = [];
      const done = row.place === 'marked' || row.place === 'handed-back';
      if (pdf) paths.push(await zip.add(folders, `${title}${done ? ', marked' : ''}.pdf`, pdf));
      const blind = (await whose(db, row.copyId))?.blind ?? true;
      for (const f of await originalsOf(db, row.handInId!)) {
        const name = blind ? blindFileName(f.name, f.position) : f.name;
        paths.push(await zip.add([...folders, 'as it came'], name, streamOf(db, f.sha256)));
      }
      for (const path of paths)
        lines.push([
          student,
          title,
          path,
          row.place,
          row.grade === null ? null : row.grade / 100,
          row.handedInAt === null ? '' : new Date(row.handedInAt).toISOString(),
          row.late > 0 ? 'late' : '',
          row.handInNumber,
        ]);
    },
    counted,
  );
  return lines;
}

export const INDEX_HEAD = [
  'Student',
  'Work',
  'File',
  'Status',
  'Grade',
  'Handed in',
  'Late',
  'Hand-in',
] as const;

/** The files of a hand-in as they came, in their order. */
const originalsOf = (db: Db, handInId: HandInId) =>
  pick(
    db
      .createQueryBuilder(HandInDocumentTable, 'x')
      .innerJoin(DocumentTable.table, 'd', 'd.id = x.documentId')
      .where(
        'x.handInId = :handInId AND COALESCE(d.originalSha256, d.sha256) IS NOT NULL AND d.filledFrom IS NULL',
        {
          handInId,
        },
      )
      .orderBy('x.position'),
    {
      name: col('d.name', as.text),
      position: col('x.position', as.int),
      sha256: col('COALESCE(d.originalSha256, d.sha256)', as.text),
    },
  );

/** The copies of a pile as one file to print. */
export async function pileToPrint(
  context: JobContext,
  opener: Opener,
  wanted: Wanted,
): Promise<{ readonly path: string; readonly name: string }> {
  const files: string[] = [];
  let name = '';
  const counted = { done: 0, total: 0 };
  await eachCopy(
    context,
    opener,
    wanted,
    async ({ pdf, title, className }) => {
      name = `${className}, ${title}`;
      if (!pdf) return;
      // Its own folder goes; what is printed is kept until all are one.
      const kept = join(context.folder, `print${files.length}.pdf`);
      await rename(pdf, kept);
      files.push(kept);
    },
    counted,
  );
  if (files.length === 0) throw new Fault('nothing-to-take-out');
  return { path: await joined(context, files, 'print'), name: `${name}, to print.pdf` };
}

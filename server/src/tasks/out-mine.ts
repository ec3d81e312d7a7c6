import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type ClassId,
  type CopyId,
  closedOf,
  coverSheet,
  forReader,
  fullName,
  type HandInId,
  logGrids,
  type Person,
  paperDay,
  realName,
} from '@jotmark/core';
import { streamOf } from '../blobs/blob.ts';
import {
  CopyMemberTable,
  DocumentTable,
  HandBackTable,
  HandInDocumentTable,
  HandInTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { Fault } from '../fault.ts';
import { openedOf } from '../hand-back/opened.ts';
import type { JobContext } from '../jobs/context.ts';
import { logFor } from '../log/log.ts';
import type { Opener } from '../opening/opener.ts';
import { ZipFolder } from '../take-out/folder.ts';
import { joined, markedFilms, pagedDocuments, writeCover, writeMarked } from './write-marked.ts';

/** All that a student handed in and got back, in folders by class and work. It reads hand-backs and files, and nothing of any marking. */
export async function outMine(
  context: JobContext,
  opener: Opener,
  person: Person,
): Promise<{ readonly path: string; readonly name: string }> {
  const db = context.house.db.manager;
  const handIns = await handInsOf(db, person);
  if (handIns.length === 0) throw new Fault('nothing-to-take-out');
  const path = join(context.folder, 'mine.zip');
  const zip = new ZipFolder(path);
  for (const [i, h] of handIns.entries()) {
    context.progress(i, handIns.length);
    const folders = [h.className, h.title];
    const again = h.number > 1 ? ` ${h.number}` : '';
    for (const f of await filesOf(db, h.id))
      await zip.add(
        [...folders, `handed in${again}`],
        f.filled ? `${f.name}.pdf` : f.name,
        streamOf(db, f.sha256),
      );
    const folder = join(context.folder, h.id);
    await mkdir(folder, { recursive: true });
    const back = await backPdf({ ...context, folder, progress: () => {} }, opener, person, h);
    if (back) await zip.add(folders, `${h.title}${again}, marked.pdf`, back);
    await rm(folder, { recursive: true, force: true });
  }
  for (const [classId, className] of new Map(handIns.map((h) => [h.classId, h.className]))) {
    const [feedback, notes] = logGrids([await logFor(db, classId, person.id)]);
    await zip.addTable([className], 'my feedback.csv', feedback!);
    await zip.addTable([className], 'my notes.csv', notes!);
  }
  await zip.end();
  return { path, name: `${fullName(person)}, my work.zip` };
}

const handInsOf = (db: Db, person: Person) =>
  pick(
    db
      .createQueryBuilder(HandInTable, 'h')
      .innerJoin('h.copy', 'c')
      .innerJoin(CopyMemberTable.table, 'cm', 'cm.copyId = c.id AND cm.personId = :me', { me: person.id })
      .innerJoin('c.assignment', 'a')
      .innerJoin('a.class', 'k')
      .orderBy('h.handedInAt'),
    {
      id: col('h.id', as.id<HandInId>()),
      copyId: col('c.id', as.id<CopyId>()),
      number: col('h.number', as.int),
      title: col('a.title', as.text),
      classId: col('k.id', as.id<ClassId>()),
      className: col('k.name', as.text),
    },
  );
type OwnHandIn = Awaited<ReturnType<typeof handInsOf>>[number];

const filesOf = (db: Db, handInId: HandInId) =>
  pick(
    db
      .createQueryBuilder(HandInDocumentTable, 'x')
      .innerJoin(DocumentTable.table, 'd', 'd.id = x.documentId')
      .where('x.handInId = :handInId AND COALESCE(d.originalSha256, d.sha256) IS NOT NULL', { handInId })
      .orderBy('x.position'),
    {
      name: col('d.name', as.text),
      filled: col('d.filledFrom IS NOT NULL', as.flag),
      sha256: col('COALESCE(d.originalSha256, d.sha256)', as.text),
    },
  );

/** What came back of a hand-in, as its student reads it; null: nothing did. */
async function backPdf(
  context: JobContext,
  opener: Opener,
  person: Person,
  { id: handInId, title }: OwnHandIn,
): Promise<string | null> {
  const { house } = context;
  const db = house.db.manager;
  const [back] = await db
    .getRepository(HandBackTable)
    .find({ where: { handInId }, order: { round: 'DESC' }, take: 1 });
  if (!back || back.round === 0) return null;
  const content = forReader(back.content, person.id);
  const author = content.markedBy;
  const graded = closedOf(back.content, await openedOf(db, back.id, person.id)) === 0;
  const pages = await writeMarked(context, opener, await pagedDocuments(db, handInId), {
    marks: content.marks,
    films: await markedFilms(db, handInId, content.marks, false),
    about: null,
    turns: content.turns,
    author,
    flat: false,
    student: realName([person]),
  });
  const at = paperDay(back.handedBackAt, house.settings.school.timeZone);
  const cover = await writeCover(context, opener, 'cover', {
    sheet: coverSheet(content, { title, under: `${fullName(person)} · marked by ${author}, ${at}`, graded }),
    author,
    about: content.voice ?? null,
  });
  return joined(context, [cover, ...pages]);
}

import {
  type DocumentId,
  type DocumentPages,
  type DocumentState,
  type JobId,
  PageText,
  type Turns,
} from '@jotmark/core';
import { In } from 'typeorm';
import * as z from 'zod';
import { readSmall } from '../blobs/blob.ts';
import {
  DocumentShapesTable,
  DocumentTable,
  DocumentTextTable,
  HandInDocumentTable,
  JobTable,
  PageTurnsTable,
} from '../database/entities/index.ts';
import { as, col, type Db, pick } from '../database/pick.ts';
import { find, insertOrUpdate, update } from '../database/write.ts';
import type { House } from '../house.ts';
import { retryJob } from '../jobs/queue.ts';
import { documentState } from './state.ts';

/** Pages as they lie. The teacher's turns are read only for a teacher: a student gets them with the hand-back. */
export async function documentPages(
  house: House,
  id: DocumentId,
  forTeacher: boolean,
): Promise<DocumentPages> {
  const db = house.db.manager;
  // The state first: reading may end in between, and whoever hears that it is done asks for the frames no more.
  const state = await documentState(db, id);
  const row = await find(db, DocumentTable, { id });
  return {
    state,
    frames: row?.frames ?? [],
    turns: forTeacher ? ((await find(db, PageTurnsTable, { documentId: id }))?.turns ?? {}) : {},
  };
}

/** Where the text layer of a document is kept; null before it is read. */
export async function textKept(db: Db, id: DocumentId): Promise<string | null> {
  return (await find(db, DocumentTextTable, { documentId: id }))?.sha256 ?? null;
}

/** The text layer itself, opened: a server passes it on unopened but where it looks for names. */
export async function readText(db: Db, id: DocumentId): Promise<PageText[]> {
  const kept = await textKept(db, id);
  return kept ? z.array(PageText).parse(JSON.parse((await readSmall(db, kept)).toString('utf8'))) : [];
}

/** Where what is drawn on the pages of a worksheet is kept; null for documents that are not one. */
export async function shapesKept(db: Db, id: DocumentId): Promise<string | null> {
  return (await find(db, DocumentShapesTable, { documentId: id }))?.sha256 ?? null;
}

export async function turnPages(house: House, id: DocumentId, turns: Turns): Promise<void> {
  await insertOrUpdate(house.db.manager, PageTurnsTable, { documentId: id, turns }, ['turns']);
}

/** How the teacher turned the pages of a hand-in's documents. */
export const turnsIn = async (db: Db, handInId: string): Promise<Record<DocumentId, Turns>> =>
  (await turnsOfMany(db, [handInId])).get(handInId) ?? {};

/** The same of many hand-ins, by hand-in. */
export async function turnsOfMany(
  db: Db,
  handInIds: readonly string[],
): Promise<ReadonlyMap<string, Record<DocumentId, Turns>>> {
  const out = new Map<string, Record<DocumentId, Turns>>();
  if (handInIds.length === 0) return out;
  const documents = await db
    .getRepository(HandInDocumentTable)
    .find({ where: { handInId: In([...handInIds]) } });
  if (documents.length === 0) return out;
  const turned = await db
    .getRepository(PageTurnsTable)
    .find({ where: { documentId: In(documents.map((d) => d.documentId)) } });
  const turns = new Map(turned.map((t) => [t.documentId, t.turns]));
  for (const { handInId, documentId } of documents) {
    const now = turns.get(documentId);
    if (now) out.set(handInId, { ...out.get(handInId), [documentId]: now });
  }
  return out;
}

/** Reads a document again that could not be read: one whose job failed, or that was found to have no pages for want of time. */
export async function readAgain(house: House, id: DocumentId): Promise<DocumentState> {
  const db = house.db.manager;
  const [job] = await pick(
    db.createQueryBuilder(JobTable, 'j').where(`j.kind = 'read-document' AND j.subject = :id`, { id }),
    { id: col('j.id', as.id<JobId>()), state: col('j.state', as.text) },
  );
  const document = await find(db, DocumentTable, { id });
  if (job && document?.shows === 'nothing' && document.trouble === 'too-slow') {
    await update(db, DocumentTable, { id }, { shows: 'pages', trouble: null });
    await update(db, JobTable, { id: job.id, state: 'done' }, { state: 'failed' });
  }
  if (job) await retryJob(db, job.id);
  return documentState(db, id);
}

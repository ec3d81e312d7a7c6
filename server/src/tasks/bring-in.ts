import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BroughtIn, BroughtInAny, DocumentId, Mark } from '@jotmark/core';
import type * as z from 'zod';
import type { RawRow } from '../database/raw.ts';
import { writeBlobTo } from '../blobs/blob.ts';
import { judgePdf } from '../opening/judge-pdf.ts';
import type { Received } from '../http/receive.ts';
import type { House } from '../house.ts';
import { Fault } from '../fault.ts';
import { type Opener, TaskFailed } from '../opening/opener.ts';
import { MarksRead } from '../opening/task.ts';
import { BLIND_COLUMN, fullName, shownStudent } from '../people/blind.ts';

interface PageOfCopy {
  readonly document: DocumentId;
  readonly page: number;
}

/**
 * Reads a PDF that was marked in whatever program, and says which marks it holds for this hand-in. Its pages are found by what
 * they say of themselves, else by their order. What the student had in the file already is not the teacher's.
 */
export async function bringIn(
  house: House,
  opener: Opener,
  handInId: string,
  file: Received,
): Promise<BroughtIn> {
  return forHandIn(house, opener, handInId, await readFile(opener, file));
}

/**
 * The same for a file of which nobody said whose it is: by what its pages say of themselves, else by the one student whose name
 * is in the file's. Null: nobody's, or more than one's.
 */
export async function bringInAny(
  house: House,
  opener: Opener,
  assignmentId: string,
  file: Received,
): Promise<BroughtInAny> {
  const found = await readFile(opener, file);
  const copies: RawRow[] = await house.db.query(
    `SELECT c.id AS copy_id, p.given, p.family, h.id AS hand_in_id, ${BLIND_COLUMN},
       EXISTS (SELECT 1 FROM hand_back b WHERE b.hand_in_id = h.id) AS back,
       (SELECT JSON_ARRAYAGG(d.document_id) FROM hand_in_document d WHERE d.hand_in_id = h.id) AS documents
     FROM copy c JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id JOIN hand_in h ON h.copy_id = c.id
     WHERE c.assignment_id = ? AND h.number = (SELECT MAX(x.number) FROM hand_in x WHERE x.copy_id = c.id)`,
    [assignmentId],
  );
  const said = new Set(found.pages.flatMap((page) => (page ? [page.document] : [])));
  const meant = said.size
    ? copies.filter((c) => documentsIn(c).some((d) => said.has(d)))
    : copies.filter((c) => isNamed(file.name, shownStudent(c)));
  const [copy] = meant;
  if (!copy || meant.length > 1 || copy.back) return { to: null, marks: [], unknown: [], offPage: 0 };
  return {
    to: { copyId: copy.copy_id, handInId: copy.hand_in_id, name: fullName(shownStudent(copy)) },
    ...(await forHandIn(house, opener, copy.hand_in_id, found)),
  };
}

const documentsIn = (copy: RawRow): string[] =>
  typeof copy.documents === 'string' ? JSON.parse(copy.documents) : (copy.documents ?? []);

const plain = (text: string): string =>
  ` ${text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')} `;

/** Whether a file's name has both names of a student in it, as whole words in any order. */
function isNamed(file: string, { given, family }: { given: string; family: string }): boolean {
  const name = plain(file);
  return [given, family].every((part) => name.includes(plain(part)));
}

async function readFile(opener: Opener, file: Received): Promise<Found> {
  const { mended } = await judgePdf(opener, file.path, file.name);
  return read(opener, mended, file.name);
}

async function forHandIn(house: House, opener: Opener, handInId: string, found: Found): Promise<BroughtIn> {
  const documents: RawRow[] = await house.db.query(
    `SELECT d.id, d.pages, d.sha256 FROM hand_in_document h JOIN document d ON d.id = h.document_id AND d.shows = 'pages' AND d.frames IS NOT NULL
     WHERE h.hand_in_id = ? ORDER BY h.position`,
    [handInId],
  );
  const pages = pagesOf(found, documents);
  const theirs = await marksOfStudent(house, opener, documents);
  const out: Mark[] = [];
  let offPage = 0;
  for (const mark of found.marks) {
    const at = pages[mark.page];
    if (!at) offPage++;
    else if (!theirs.has(`${at.document}:${mark.id}`)) out.push({ ...mark, ...at });
  }
  const kinds = new Map<string, number>();
  for (const kind of found.unknown) kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
  return { marks: out, offPage, unknown: [...kinds].map(([kind, count]) => ({ kind, count })) };
}

type Found = z.infer<typeof MarksRead>;

async function read(opener: Opener, file: string, name: string): Promise<Found> {
  try {
    return MarksRead.parse(await opener.run({ op: 'read-marks', file }));
  } catch (error) {
    if (error instanceof TaskFailed)
      throw new Fault(error.reason === 'broken' ? 'file-damaged' : 'file-slow', { name });
    throw error;
  }
}

/** Which page of the hand-in each page of the file is. */
function pagesOf(found: Found, documents: readonly RawRow[]): (PageOfCopy | null)[] {
  const order = documents.flatMap((d) =>
    Array.from({ length: d.pages }, (_, page): PageOfCopy => ({ document: d.id, page })),
  );
  const said = found.pages.some((page) => page !== null);
  return found.pages.map((sign, i) => {
    if (!said) return order[i] ?? null;
    return order.find((p) => p.document === sign?.document && p.page === sign.page) ?? null;
  });
}

/** Annotations that were in the documents when they were handed in, as document and id. */
async function marksOfStudent(
  house: House,
  opener: Opener,
  documents: readonly RawRow[],
): Promise<ReadonlySet<string>> {
  const theirs = new Set<string>();
  const folder = await mkdtemp(join(tmpdir(), 'jotmark-in-'));
  try {
    for (const document of documents) {
      const file = join(folder, document.id);
      await writeBlobTo(house.db, document.sha256, file);
      // One that cannot be read has nothing to tell apart.
      const found = await read(opener, file, '').catch(() => null);
      for (const mark of found?.marks ?? []) theirs.add(`${document.id}:${mark.id}`);
    }
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  return theirs;
}

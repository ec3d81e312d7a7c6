import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BroughtIn, DocumentId, Mark } from '@jotmark/core';
import type * as z from 'zod';
import type { RawRow } from '../database/raw.ts';
import { writeBlobTo } from '../files/blob.ts';
import { judgePdf } from '../files/judge.ts';
import type { Received } from '../files/receive.ts';
import type { House } from '../house.ts';
import { Fault } from '../http/fault.ts';
import { type Opener, TaskFailed } from '../jobs/opener.ts';
import { MarksRead } from '../jobs/tasks.ts';

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
  const { mended } = await judgePdf(opener, file.path, file.name);
  const found = await read(opener, mended, file.name);
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

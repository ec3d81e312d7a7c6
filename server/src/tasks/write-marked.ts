import { join } from 'node:path';
import { type DocumentId, type Mark, PageFrame, PageText, type Person, type Turns } from '@jotmark/core';
import * as z from 'zod';
import type { RawRow } from '../database/raw.ts';
import { writeBlobTo } from '../blobs/blob.ts';
import { joinPdfs } from '../programs/qpdf.ts';
import { tidyName } from '../http/receive.ts';
import type { House } from '../house.ts';
import type { Opener } from '../opening/opener.ts';
import { Annotated } from '../opening/task.ts';

/** What of a document a marked PDF is made from. */
export const MARKED_COLUMNS =
  'd.id AS document_id, d.sha256, d.frames, d.filled_from, t.pages AS text, a.title, p.given, p.family';

export interface Marked {
  readonly marks: readonly Mark[];
  readonly turns: Readonly<Record<DocumentId, Turns>>;
  readonly author: string;
  /** For printing: marks and notes as the page's own content, the notes' words on sheets behind. */
  readonly flat: boolean;
}

/** Writes marks into documents, each appended to its own bytes, and gives the one file they are, behind one another. */
export async function writeMarked(
  { house, opener }: { readonly house: House; readonly opener: Opener },
  folder: string,
  documents: readonly RawRow[],
  what: Marked,
): Promise<string> {
  const written: string[] = [];
  for (const [n, document] of documents.entries()) {
    const file = join(folder, `in${n}.pdf`);
    const out = join(folder, `out${n}.pdf`);
    await writeBlobTo(house.db, document.sha256, file);
    Annotated.parse(
      await opener.run({
        op: 'write-marks',
        file,
        out,
        marks: what.marks.filter((m) => m.document === document.document_id),
        frames: z.array(PageFrame).parse(JSON.parse(document.frames)),
        turns: what.turns[document.document_id as DocumentId] ?? {},
        document: document.document_id,
        author: what.author,
        flat: what.flat,
        name: document.filled_from
          ? {
              name: `${document.given} ${document.family}`.trim(),
              text: document.text ? z.array(PageText).parse(JSON.parse(document.text)) : [],
            }
          : null,
      }),
    );
    written.push(out);
  }
  if (written.length === 1) return written[0]!;
  const all = join(folder, 'all.pdf');
  await joinPdfs(written, all);
  return all;
}

/** What a marked copy is called as a file. */
export function markedName(title: string, student: Pick<Person, 'given' | 'family'>): string {
  const name = tidyName(`${title} – ${student.given} ${student.family}`.replace(/[/\\]/g, '-'));
  return `${name.replace(/\.pdf$/i, '')}, marked.pdf`;
}

import { join } from 'node:path';
import {
  bytesIn,
  type CoverSheet,
  type Digest,
  type DocumentId,
  fullName,
  type HandInId,
  type Mark,
  momentOf,
  type RealName,
  type Recording,
  recordingOf,
  saysNothing,
  type Turns,
  type VoiceType,
} from '@jotmark/core';
import { In, IsNull, Not } from 'typeorm';
import { writeBlobTo } from '../blobs/blob.ts';
import { tidyName } from '../blobs/file-name.ts';
import {
  type DocumentRow,
  DocumentTable,
  HandInDocumentTable,
  VoiceTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { find } from '../database/write.ts';
import { textKept } from '../document/pages.ts';
import type { JobContext } from '../jobs/context.ts';
import type { Opener } from '../opening/opener.ts';
import { Annotated } from '../opening/task.ts';
import type { MarkedFilm } from '../pdf/film-list.ts';
import { isPicture } from '../people/pictures.ts';
import { blindFileName } from '../people/students.ts';
import { joinPdfs } from '../programs/qpdf.ts';

export interface ToWrite {
  readonly marks: readonly Mark[];
  /** What is said about the whole copy; null: nothing. */
  readonly about: Recording | null;
  /** Films and sounds with what was marked on them. */
  readonly films: readonly MarkedFilm[];
  readonly turns: Readonly<Record<DocumentId, Turns>>;
  readonly author: string;
  /** For printing: marks and notes as the page's own content, the notes' words on sheets behind. */
  readonly flat: boolean;
  /** Of what is printed: the notes beside the page on one sheet, and not on sheets behind. */
  readonly beside?: boolean;
  /** Stands on pages of our own making; of a blind copy its code. */
  readonly student: RealName;
}

/** The documents of a hand-in whose pages are read, in their order. */
export async function pagedDocuments(db: Db, handInId: HandInId): Promise<DocumentRow[]> {
  return db
    .createQueryBuilder(DocumentTable, 'd')
    .innerJoin(HandInDocumentTable.table, 'h', 'h.documentId = d.id')
    .where({ shows: 'pages', frames: Not(IsNull()) })
    .andWhere('h.handInId = :handInId', { handInId })
    .orderBy('h.position')
    .getMany();
}

/** The films and sounds of a hand-in of which something was marked, in their order. */
export async function markedFilms(
  db: Db,
  handInId: HandInId,
  marks: readonly Mark[],
  blind: boolean,
): Promise<MarkedFilm[]> {
  const films = await db
    .createQueryBuilder(DocumentTable, 'd')
    .innerJoin(HandInDocumentTable.table, 'h', 'h.documentId = d.id')
    .where({ shows: In(['film', 'sound']) })
    .andWhere('h.handInId = :handInId', { handInId })
    .orderBy('h.position')
    .getMany();
  return films
    .map((d, i) => ({
      // Names of files tell whose they are.
      name: blind ? blindFileName(d.name, i) : d.name,
      marks: marks.filter((m) => m.document === d.id && momentOf(m) !== null && !saysNothing(m)),
    }))
    .filter((film) => film.marks.length > 0);
}

/** Writes marks into documents, each appended to its own bytes, and gives the files they are, in their order. */
export async function writeMarked(
  { house, folder, budget, progress }: JobContext,
  opener: Opener,
  documents: readonly DocumentRow[],
  what: ToWrite,
): Promise<string[]> {
  const db = house.db.manager;
  const written: string[] = [];
  for (const [n, document] of documents.entries()) {
    progress(n, documents.length);
    const file = join(folder, `in${n}.pdf`);
    const out = join(folder, `out${n}.pdf`);
    await writeBlobTo(db, document.sha256!, file);
    const marks = what.marks.filter((m) => m.document === document.id && momentOf(m) === null);
    const about = n === 0 ? what.about : null;
    const said = [...marks.flatMap((m) => recordingOf(m) ?? []), ...(about ? [about] : [])];
    Annotated.parse(
      await opener.run(
        {
          op: 'write-marks',
          file,
          out,
          marks,
          frames: document.frames ?? [],
          turns: what.turns[document.id] ?? {},
          document: document.id,
          author: what.author,
          flat: what.flat,
          beside: what.beside ?? false,
          name: document.filledFrom
            ? {
                name: fullName(what.student),
                text: await textFile(db, document.id, join(folder, `text${n}`)),
              }
            : null,
          bytes: await bytesOnDisk(db, marks, folder),
          voices: what.flat ? {} : await voicesOnDisk(db, said, folder),
          about,
        },
        budget,
      ),
    );
    written.push(out);
  }
  if (what.films.length) {
    const out = join(folder, 'films.pdf');
    // On the first page of all, whatever that is.
    const about = documents.length ? null : what.about;
    const said = [
      ...what.films.flatMap((f) => f.marks.flatMap((m) => recordingOf(m) ?? [])),
      ...(about ? [about] : []),
    ];
    const voices = what.flat ? {} : await voicesOnDisk(db, said, folder);
    await opener.run(
      { op: 'list-films', out, films: [...what.films], author: what.author, voices, about },
      budget,
    );
    written.push(out);
  }
  return written;
}

/** A sheet in front of a marked copy, with what is said about the whole of it. */
export async function writeCover(
  { house, folder, budget }: JobContext,
  opener: Opener,
  name: string,
  what: { readonly sheet: CoverSheet; readonly author: string; readonly about: Recording | null },
): Promise<string> {
  const out = join(folder, `${name}.pdf`);
  const voices = await voicesOnDisk(house.db.manager, what.about ? [what.about] : [], folder);
  await opener.run({ op: 'cover-sheet', out, voices, ...what }, budget);
  return out;
}

/** One file of several, behind one another. */
export async function joined(
  { folder, budget }: JobContext,
  files: readonly string[],
  name = 'all',
): Promise<string> {
  if (files.length === 1) return files[0]!;
  const all = join(folder, `${name}.pdf`);
  await joinPdfs(files, all, budget);
  return all;
}

async function textFile(db: Db, id: DocumentId, path: string): Promise<string | null> {
  const kept = await textKept(db, id);
  if (kept) await writeBlobTo(db, kept, path);
  return kept && path;
}

/** What the marks have bytes in, as files. What is no picture of a mark's is not given out. */
async function bytesOnDisk(db: Db, marks: readonly Mark[], folder: string): Promise<Record<Digest, string>> {
  const out: Record<string, string> = {};
  for (const digest of new Set(marks.flatMap(bytesIn))) {
    if (!(await isPicture(db, digest))) continue;
    const path = join(folder, digest);
    await writeBlobTo(db, digest, path);
    out[digest] = path;
  }
  return out;
}

/** Recordings as files: in the form that everything opens, or, as long as that is being made, as they were recorded. */
async function voicesOnDisk(
  db: Db,
  recordings: readonly Recording[],
  folder: string,
): Promise<Record<Digest, { type: VoiceType; file: string }>> {
  const out: Record<string, { type: VoiceType; file: string }> = {};
  for (const { file: sha256 } of recordings) {
    const voice = out[sha256] ? null : await find(db, VoiceTable, { sha256 });
    if (!voice) continue;
    const file = join(folder, `voice-${sha256}`);
    await writeBlobTo(db, voice.plainSha256 ?? sha256, file);
    const plain: VoiceType = voice.type.startsWith('video/') ? 'video/mp4' : 'audio/mpeg';
    out[sha256] = { type: voice.plainSha256 ? plain : voice.type, file };
  }
  return out;
}

/** What a marked copy is called as a file: to be read, or to be printed. */
export function markedName(title: string, student: RealName, as: 'marked' | 'to print' = 'marked'): string {
  const name = tidyName(`${title} – ${fullName(student)}`.replace(/[/\\]/g, '-'));
  return `${name.replace(/\.pdf$/i, '')}, ${as}.pdf`;
}

import {
  type Person,
  type Question,
  Questions,
  sumOfPoints,
  type VersionId,
  type WorksheetId,
  type WorksheetLine,
  type WorksheetShape,
} from '@jotmark/core';
import type { RawRow } from '../database/raw.ts';
import { inTransaction } from '../database/transaction.ts';
import { documentState, keepDocument, type Part } from '../document/document.ts';
import { judgeAny } from '../opening/judge.ts';
import type { Received } from '../http/receive.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';
import type { Opener } from '../opening/opener.ts';

/** A teacher's worksheets, the newest first. */
export async function worksheetsOf(house: House, person: Person): Promise<WorksheetLine[]> {
  const rows = await house.db.query(
    `SELECT w.id, w.name, w.created_at, v.number, v.questions, d.pages FROM worksheet w
       JOIN worksheet_version v ON v.worksheet_id = w.id AND v.number = (SELECT MAX(n.number) FROM worksheet_version n WHERE n.worksheet_id = w.id)
       JOIN document d ON d.id = v.document_id WHERE w.owner_id = ? ORDER BY w.created_at DESC, w.id DESC LIMIT 500`,
    [person.id],
  );
  return rows.map((r: RawRow): WorksheetLine => {
    const questions = Questions.parse(JSON.parse(r.questions));
    return {
      id: r.id,
      name: r.name,
      version: r.number,
      pages: r.pages,
      questions: questions.length,
      points: sumOfPoints(questions),
      createdAt: r.created_at.getTime(),
    };
  });
}

/** Makes a worksheet of what was uploaded: a PDF, an office document, a picture, or several of them one behind the other. */
export async function makeWorksheet(
  house: House,
  opener: Opener,
  person: Person,
  files: readonly Received[],
  questions: readonly Question[] = [],
): Promise<WorksheetId> {
  const parts: Part[] = [];
  for (const file of files) {
    const judged = await judgeAny(opener, file.path, file.name);
    if (judged.shows !== 'pages') throw new Fault('file-not-pages', { name: file.name });
    parts.push({ ...file, judged });
  }
  const [first, ...rest] = parts as [Part, ...Part[]];
  const name = first.name.replace(/\.[a-z0-9]{1,5}$/i, '') || 'Worksheet';
  const documentId = await keepDocument(house, { ownerId: person.id }, first.name, [first, ...rest]);
  const id = newId<WorksheetId>(house);
  const now = new Date(house.now());
  await house.db.transaction(async (tx) => {
    await tx.query('INSERT INTO worksheet (id, owner_id, name, created_at) VALUES (?, ?, ?, ?)', [
      id,
      person.id,
      name.slice(0, 200),
      now,
    ]);
    await tx.query(
      'INSERT INTO worksheet_version (id, worksheet_id, number, document_id, questions, revision, created_at) VALUES (?, ?, 1, ?, ?, 1, ?)',
      [newId(house), id, documentId, JSON.stringify(questions), now],
    );
  });
  return id;
}

const COPIES = '(SELECT COUNT(*) FROM copy_sheet s WHERE s.version_id = v.id) AS copies';

/** The newest version of a worksheet, to be looked at and edited. */
export async function readWorksheet(house: House, worksheetId: WorksheetId): Promise<WorksheetShape> {
  const rows: RawRow[] = await house.db.query(
    `SELECT w.name, v.id, v.number, v.document_id, v.questions, v.revision, v.created_at, ${COPIES} FROM worksheet w
       JOIN worksheet_version v ON v.worksheet_id = w.id WHERE w.id = ? ORDER BY v.number DESC`,
    [worksheetId],
  );
  const v = rows[0];
  if (!v) throw new Fault('not-found');
  return {
    id: worksheetId,
    name: v.name,
    versionId: v.id,
    number: v.number,
    revision: v.revision,
    handedOut: Number(v.copies) > 0,
    document: await documentState(house, v.document_id),
    questions: Questions.parse(JSON.parse(v.questions)),
    versions: rows.map((r) => ({
      number: r.number,
      createdAt: r.created_at.getTime(),
      copies: Number(r.copies),
    })),
  };
}

/**
 * Keeps the questions of the newest version. Where copies of it are out they keep theirs: the questions become a new version on the
 * same pages, which drafts and assignments take over when they are told to. An edit made on an older state is refused.
 */
export async function saveQuestions(
  house: House,
  worksheetId: WorksheetId,
  edit: { versionId: VersionId; revision: number; questions: Questions },
): Promise<{ versionId: VersionId; number: number; revision: number }> {
  return inTransaction(house.db, async (tx) => {
    await tx.query('SELECT id FROM worksheet WHERE id = ? FOR UPDATE', [worksheetId]);
    const [v] = await tx.query(
      `SELECT v.id, v.number, v.revision, v.document_id, d.pages, ${COPIES} FROM worksheet_version v JOIN document d ON d.id = v.document_id
       WHERE v.worksheet_id = ? ORDER BY v.number DESC LIMIT 1`,
      [worksheetId],
    );
    if (v.id !== edit.versionId || v.revision !== edit.revision) throw new Fault('changed-elsewhere');
    if (edit.questions.some((q) => q.page >= v.pages)) throw new Fault('bad-input', { what: 'page' });
    const questions = JSON.stringify(edit.questions);
    if (Number(v.copies) === 0) {
      await tx.query('UPDATE worksheet_version SET questions = ?, revision = revision + 1 WHERE id = ?', [
        questions,
        v.id,
      ]);
      return { versionId: v.id, number: v.number, revision: v.revision + 1 };
    }
    const id = newId<VersionId>(house);
    await tx.query(
      'INSERT INTO worksheet_version (id, worksheet_id, number, document_id, questions, revision, created_at) VALUES (?, ?, ?, ?, ?, 1, ?)',
      [id, worksheetId, v.number + 1, v.document_id, questions, new Date(house.now())],
    );
    // Drafts that nobody has seen go with it.
    await tx.query(
      'UPDATE material x JOIN assignment a ON a.id = x.assignment_id SET x.version_id = ? WHERE x.version_id = ? AND a.opens_at IS NULL',
      [id, v.id],
    );
    return { versionId: id, number: v.number + 1, revision: 1 };
  });
}

export async function renameWorksheet(house: House, worksheetId: string, name: string): Promise<void> {
  await house.db.query('UPDATE worksheet SET name = ? WHERE id = ?', [name, worksheetId]);
}

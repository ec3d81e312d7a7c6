import {
  type CopyId,
  type DocumentId,
  type HandInContent,
  type HandInId,
  lateBy,
  type Mark,
  type Person,
  type Question,
} from '@jotmark/core';
import type { EntityManager } from 'typeorm';
import { addMessage } from '../conversation/messages.ts';
import { readCopyState } from '../copy/state.ts';
import { inTransaction } from '../database/transaction.ts';
import { type House, newId } from '../house.ts';
import { Fault } from '../fault.ts';
import { orderJob } from '../jobs/queue.ts';
import { hintCopy } from '../live/hint.ts';

export interface HandingIn {
  readonly id: HandInId;
  readonly cover: string;
  readonly claimedAt: number | null;
}

/**
 * Freezes a copy as it stands as its next hand-in: worksheet version, answers, drawing, files. The id is the client's: the
 * same request sent twice counts once. While a hand-in is with the teacher there is no second one.
 */
export async function handIn(
  house: House,
  person: Person,
  copyId: CopyId,
  what: HandingIn,
): Promise<HandInId> {
  return inTransaction(house.db, async (tx) => {
    const [copy] = await tx.query(
      `SELECT COALESCE(c.due_at, a.due_at) AS due_at, a.hands_in, a.title, p.given, p.family FROM copy c
         JOIN assignment a ON a.id = c.assignment_id JOIN person p ON p.id = c.student_id WHERE c.id = ? FOR UPDATE`,
      [copyId],
    );
    const known = await tx.query(
      'SELECT id FROM hand_in WHERE id = ? AND copy_id = ? UNION SELECT id FROM taken_back WHERE id = ? AND copy_id = ?',
      [what.id, copyId, what.id, copyId],
    );
    if (known.length) return what.id;
    const [last] = await tx.query(
      `SELECT h.number, b.id AS back_id FROM hand_in h LEFT JOIN hand_back b ON b.hand_in_id = h.id
       WHERE h.copy_id = ? ORDER BY h.number DESC LIMIT 1`,
      [copyId],
    );
    if (last && !last.back_id) throw new Fault('already-handed-in');
    const files: { document_id: DocumentId }[] = await tx.query(
      'SELECT document_id FROM copy_file WHERE copy_id = ? ORDER BY position',
      [copyId],
    );
    const sheets = await freezeSheets(tx, copyId);
    if (copy.hands_in && sheets.length === 0 && files.length === 0) throw new Fault('nothing-to-hand-in');
    const now = house.now();
    const content: HandInContent = {
      v: 1,
      sheets: sheets.map(({ versionId, answers, marks }) => ({ versionId, answers, marks })),
    };
    await tx.query(
      'INSERT INTO hand_in (id, copy_id, number, handed_in_at, late_ms, claimed_at, content) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        what.id,
        copyId,
        (last?.number ?? 0) + 1,
        new Date(now),
        lateBy(copy.due_at?.getTime() ?? null, now),
        what.claimedAt === null ? null : new Date(Math.min(what.claimedAt, now)),
        JSON.stringify(content),
      ],
    );
    const documents: DocumentId[] = [];
    for (const sheet of sheets)
      documents.push(
        await filledSheet(
          house,
          tx,
          { ...what, copyId },
          sheet,
          `${sheet.name} – ${copy.given} ${copy.family}`,
        ),
      );
    documents.push(...files.map((f) => f.document_id));
    if (documents.length)
      await tx.query('INSERT INTO hand_in_document (hand_in_id, position, document_id) VALUES ?', [
        documents.map((d, i) => [what.id, i, d]),
      ]);
    await hintCopy(tx, copyId, 'hand-in', new Date(now));
    if (what.cover) await addMessage(house, tx, { copyId, by: person.id, words: what.cover, cover: true });
    return what.id;
  });
}

interface FrozenSheet {
  readonly versionId: HandInContent['sheets'][number]['versionId'];
  readonly name: string;
  readonly pages: number;
  readonly answers: HandInContent['sheets'][number]['answers'];
  readonly marks: Mark[];
}

async function freezeSheets(tx: EntityManager, copyId: string): Promise<FrozenSheet[]> {
  const rows = await tx.query(
    `SELECT s.version_id, k.name, w.questions, w.document_id, d.pages FROM copy_sheet s JOIN worksheet_version w ON w.id = s.version_id
       JOIN worksheet k ON k.id = w.worksheet_id JOIN document d ON d.id = w.document_id WHERE s.copy_id = ? ORDER BY s.position`,
    [copyId],
  );
  if (rows.length === 0) return [];
  const state = await readCopyState(tx, copyId);
  return rows.map((row: Record<string, never>): FrozenSheet => {
    const questions = new Set((JSON.parse(row.questions!) as Question[]).map((q) => q.id));
    return {
      versionId: row.version_id!,
      name: row.name!,
      pages: row.pages!,
      answers: Object.fromEntries(
        state.answers
          .filter((a) => questions.has(a.question) && a.value !== '')
          .map((a) => [a.question, a.value]),
      ),
      marks: state.marks.flatMap((m) => (m.mark && m.mark.document === row.document_id ? [m.mark] : [])),
    };
  });
}

/** A document of its own for the filled-in worksheet; a job writes its pages from what was frozen. */
async function filledSheet(
  house: House,
  tx: EntityManager,
  what: HandingIn & { copyId: CopyId },
  sheet: FrozenSheet,
  name: string,
): Promise<DocumentId> {
  const id = newId<DocumentId>(house);
  await tx.query(
    `INSERT INTO document (id, copy_id, name, pages, type, shows, filled_from, version_id, created_at) VALUES (?, ?, ?, ?, 'application/pdf', 'pages', ?, ?, ?)`,
    [id, what.copyId, name.slice(0, 255), sheet.pages, what.id, sheet.versionId, new Date(house.now())],
  );
  await orderJob(house, tx, 'read-document', id);
  return id;
}

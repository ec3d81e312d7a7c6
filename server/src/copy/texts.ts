import {
  type CopyId,
  isEmptyText,
  type LongText,
  MOST_TEXT,
  plainText,
  type QuestionId,
} from '@jotmark/core';
import * as Y from 'yjs';
import type { Statement } from '../database/batch-pool.ts';
import { CopyTextTable, CopyTextUpdateTable } from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';
import { readText } from './read-text.ts';

/** A text that grows, put together from all that was written into it. */
export interface GrownText {
  readonly doc: Y.Doc;
  /** Of the newest change that is in it. */
  seq: number;
  plain: string;
}

const bytesOf = (base64: string): Uint8Array => new Uint8Array(Buffer.from(base64, 'base64'));
const base64Of = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');

/** Whether it can be merged at all. */
export function isUpdate(base64: string): boolean {
  try {
    Y.decodeUpdate(bytesOf(base64));
    return true;
  } catch {
    return false;
  }
}

/** Whether nothing more goes in: what is taken may lead a little beyond. */
export const isFull = (text: GrownText): boolean => text.plain.length > MOST_TEXT;

/** Merges what was written, and gives how the text reads after it. */
export function write(text: GrownText, base64: string, seq: number): string {
  Y.applyUpdate(text.doc, bytesOf(base64));
  text.seq = seq;
  text.plain = plainText(readText(text.doc));
  return text.plain;
}

function put(updates: readonly string[], seq: number): GrownText {
  const doc = new Y.Doc();
  for (const update of updates) Y.applyUpdate(doc, bytesOf(update));
  return { doc, seq, plain: plainText(readText(doc)) };
}

/**
 * Texts that were put together a moment ago: who writes, writes on. One is good as long as its `seq` is the newest of its text, which is asked under the
 * copy's lock; the database knows, this only saves putting it together.
 */
const recent = new Map<string, GrownText>();
const MOST_RECENT = 100;
const keyOf = (copyId: CopyId, questionId: QuestionId) => `${copyId}/${questionId}`;

/** Keeps a text at hand: to be called after the commit. */
export function keepRecent(copyId: CopyId, texts: ReadonlyMap<QuestionId, GrownText>): void {
  for (const [questionId, text] of texts) {
    recent.set(keyOf(copyId, questionId), text);
    const [oldest] = recent.keys();
    if (recent.size > MOST_RECENT && oldest) recent.delete(oldest);
  }
}

/** All pieces of the texts of a copy, in the order they are merged. */
async function piecesOf(db: Db, copyId: CopyId): Promise<Map<QuestionId, string[]>> {
  const states = await db.getRepository(CopyTextTable).find({ where: { copyId } });
  const updates = await db
    .getRepository(CopyTextUpdateTable)
    .find({ where: { copyId }, order: { seq: 'ASC' } });
  const out = new Map<QuestionId, string[]>();
  for (const { questionId, value } of [
    ...states.map(({ questionId, state }) => ({ questionId, value: state })),
    ...updates,
  ])
    out.set(questionId, [...(out.get(questionId) ?? []), value]);
  return out;
}

/**
 * The texts of some questions of a copy whose lock is held; `newest` is the change of each that was committed last. Taken out of what is at hand: what is
 * written into them may not be committed.
 */
export async function grownTexts(
  db: Db,
  copyId: CopyId,
  questions: readonly QuestionId[],
  newest: ReadonlyMap<QuestionId, number>,
): Promise<Map<QuestionId, GrownText>> {
  const out = new Map<QuestionId, GrownText>();
  let pieces: Map<QuestionId, string[]> | null = null;
  for (const question of new Set(questions)) {
    const seq = newest.get(question) ?? 0;
    const key = keyOf(copyId, question);
    const kept = recent.get(key);
    recent.delete(key);
    if (kept?.seq !== seq) pieces ??= await piecesOf(db, copyId);
    out.set(question, kept?.seq === seq ? kept : put(pieces?.get(question) ?? [], seq));
  }
  return out;
}

/** The statement that keeps what was written. Raw: it goes in the same packet as the others of a batch that a key waits for (bench: long). */
export const textStatement = (rows: readonly (readonly unknown[])[]): Statement => ({
  sql: 'INSERT INTO copy_text_update (copy_id, seq, question_id, change_id, value) VALUES ?',
  values: [rows],
});

/** All texts of a copy as they stand: what is to be merged for each, and how it reads. */
export async function textsOf(
  db: Db,
  copyId: CopyId,
): Promise<{ question: QuestionId; update: string; text: LongText }[]> {
  return [...(await piecesOf(db, copyId))].map(([question, values]) => {
    const { doc } = put(values, 0);
    return { question, update: base64Of(Y.encodeStateAsUpdate(doc)), text: readText(doc) };
  });
}

/** The same without those in which nothing stands. */
export const writtenTexts = async (db: Db, copyId: CopyId) =>
  (await textsOf(db, copyId)).filter((t) => !isEmptyText(t.text));

/** Puts together all that was written into a text, so that it opens fast. What is merged is the very same text. Gives how many pieces became one. */
export async function compactText(tx: Db, copyId: CopyId, questionId: QuestionId): Promise<number> {
  const state = await tx.getRepository(CopyTextTable).findOne({ where: { copyId, questionId } });
  const updates = await tx
    .getRepository(CopyTextUpdateTable)
    .find({ where: { copyId, questionId }, order: { seq: 'ASC' } });
  const last = updates.at(-1);
  if (!last) return 0;
  const { doc } = put([...(state ? [state.state] : []), ...updates.map((u) => u.value)], last.seq);
  await tx
    .getRepository(CopyTextTable)
    .save({ copyId, questionId, seq: last.seq, state: base64Of(Y.encodeStateAsUpdate(doc)) });
  await tx
    .createQueryBuilder()
    .delete()
    .from(CopyTextUpdateTable)
    .where('copyId = :copyId AND questionId = :questionId AND seq <= :seq', {
      copyId,
      questionId,
      seq: last.seq,
    })
    .execute();
  return updates.length;
}

import { createHash } from 'node:crypto';
import { plainText, readHandInContent } from '@jotmark/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { hasColumn } from './again.ts';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/**
 * Texts that grow, with what is written into them; the pages they take in a document, and what students note on their own copies; who made a step of the trail. Going down loses the form of such
 * texts on copies that are out (their words stay as answers) and who wrote what.
 */
export class Writing1764964800000 implements MigrationInterface {
  readonly name = 'Writing1764964800000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE IF NOT EXISTS copy_text (
      copy_id ${ID} NOT NULL, question_id ${ID} NOT NULL, seq INT NOT NULL, state LONGTEXT NOT NULL,
      PRIMARY KEY (copy_id, question_id),
      CONSTRAINT fk_copy_text_copy FOREIGN KEY (copy_id) REFERENCES copy (id) ON DELETE CASCADE)`);
    await runner.query(`CREATE TABLE IF NOT EXISTS copy_text_update (
      copy_id ${ID} NOT NULL, seq INT NOT NULL, question_id ${ID} NOT NULL, change_id ${ID} NOT NULL, value LONGTEXT NOT NULL,
      PRIMARY KEY (copy_id, seq),
      CONSTRAINT fk_copy_text_update_copy FOREIGN KEY (copy_id) REFERENCES copy (id) ON DELETE CASCADE)`);
    if (!(await hasColumn(runner, 'document', 'flows')))
      await runner.query('ALTER TABLE document ADD COLUMN flows LONGTEXT NULL');
    if (!(await hasColumn(runner, 'document', 'own_notes')))
      await runner.query('ALTER TABLE document ADD COLUMN own_notes LONGTEXT NULL');
    if (!(await hasColumn(runner, 'copy_trail', 'by_id')))
      await runner.query(`ALTER TABLE copy_trail ADD COLUMN by_id ${ID} NULL`);
    await answersOfTexts(runner);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE IF EXISTS copy_text_update');
    await runner.query('DROP TABLE IF EXISTS copy_text');
    if (await hasColumn(runner, 'document', 'flows'))
      await runner.query('ALTER TABLE document DROP COLUMN flows');
    if (await hasColumn(runner, 'document', 'own_notes'))
      await runner.query('ALTER TABLE document DROP COLUMN own_notes');
    if (await hasColumn(runner, 'copy_trail', 'by_id'))
      await runner.query('ALTER TABLE copy_trail DROP COLUMN by_id');
  }
}

/** A form older than these texts knows only short answers: what was handed in stands among the answers again. */
async function answersOfTexts(runner: QueryRunner): Promise<void> {
  const rows: { id: string; content: string }[] = await runner.query(
    `SELECT id, content FROM hand_in WHERE content LIKE '%"texts":%'`,
  );
  for (const { id, content } of rows) {
    const read = readHandInContent(JSON.parse(content));
    if (!read.ok) continue;
    for (const { versionId, texts } of read.value.sheets)
      for (const [question, text] of Object.entries(texts ?? {})) {
        const value = plainText(text);
        const digest = createHash('sha256').update(value).digest('hex');
        await runner.query(
          "INSERT IGNORE INTO hand_in_answer (hand_in_id, question_id, version_id, kind, value, digest) VALUES (?, ?, ?, 'long', ?, ?)",
          [id, question, versionId, value, digest],
        );
      }
  }
}

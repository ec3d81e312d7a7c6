import type { MigrationInterface, QueryRunner } from 'typeorm';
import { hasColumn, ID, MOMENT, SHA } from './again.ts';

/** The class at work: hints of what changed, who is here, words at a place, strokes that went, blind piles. */
export class Live1764090000000 implements MigrationInterface {
  readonly name = 'Live1764090000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE IF NOT EXISTS event (seq BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, assignment_id ${ID} NOT NULL, copy_id ${ID} NOT NULL, kind VARCHAR(10) NOT NULL,
       at ${MOMENT} NOT NULL, KEY event_at (at)) ENGINE=InnoDB`,
    );
    await runner.query(
      `ALTER TABLE copy ADD COLUMN IF NOT EXISTS here_at ${MOMENT} NULL, ADD COLUMN IF NOT EXISTS worked_at ${MOMENT} NULL, ADD COLUMN IF NOT EXISTS at_question ${ID} NULL`,
    );
    await runner.query('ALTER TABLE message ADD COLUMN IF NOT EXISTS place LONGTEXT NULL');
    await runner.query('ALTER TABLE copy_mark ADD COLUMN IF NOT EXISTS gone TINYINT NOT NULL DEFAULT 0');
    await runner.query(
      'ALTER TABLE marking ADD COLUMN IF NOT EXISTS left_at SMALLINT UNSIGNED NOT NULL DEFAULT 0',
    );
    await runner.query('ALTER TABLE assignment ADD COLUMN IF NOT EXISTS blind TINYINT NOT NULL DEFAULT 0');
    await runner.query(
      `ALTER TABLE document ADD COLUMN IF NOT EXISTS picture_sha256 ${SHA} NULL, ADD FOREIGN KEY IF NOT EXISTS document_picture (picture_sha256) REFERENCES blob_file (sha256)`,
    );
    await runner.query(
      `CREATE TABLE IF NOT EXISTS zip_order (id ${ID} NOT NULL PRIMARY KEY, assignment_id ${ID} NOT NULL, by_id ${ID} NOT NULL, copy_ids LONGTEXT NOT NULL,
       sha256 ${SHA} NULL, name VARCHAR(255) NOT NULL, created_at ${MOMENT} NOT NULL,
       FOREIGN KEY zip_of (assignment_id) REFERENCES assignment (id), FOREIGN KEY zip_by (by_id) REFERENCES person (id)) ENGINE=InnoDB`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE IF EXISTS zip_order');
    await runner.query(
      'ALTER TABLE document DROP FOREIGN KEY IF EXISTS document_picture, DROP COLUMN IF EXISTS picture_sha256',
    );
    await runner.query('ALTER TABLE assignment DROP COLUMN IF EXISTS blind');
    await runner.query('ALTER TABLE marking DROP COLUMN IF EXISTS left_at');
    if (await hasColumn(runner, 'copy_mark', 'gone'))
      await runner.query('UPDATE copy_mark SET value = NULL WHERE gone = 1');
    await runner.query('ALTER TABLE copy_mark DROP COLUMN IF EXISTS gone');
    await runner.query('ALTER TABLE message DROP COLUMN IF EXISTS place');
    await runner.query(
      'ALTER TABLE copy DROP COLUMN IF EXISTS here_at, DROP COLUMN IF EXISTS worked_at, DROP COLUMN IF EXISTS at_question',
    );
    await runner.query('DROP TABLE IF EXISTS event');
  }
}

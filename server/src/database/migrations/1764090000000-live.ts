import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const MOMENT = 'DATETIME(3)';

/** The class at work: hints of what changed, who is here, words at a place, strokes that went, blind piles. */
export class Live1764090000000 implements MigrationInterface {
  readonly name = 'Live1764090000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE event (seq BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, assignment_id ${ID} NOT NULL, copy_id ${ID} NOT NULL, kind VARCHAR(10) NOT NULL,
       at ${MOMENT} NOT NULL, KEY event_at (at)) ENGINE=InnoDB`,
    );
    await runner.query(
      `ALTER TABLE copy ADD here_at ${MOMENT} NULL, ADD worked_at ${MOMENT} NULL, ADD at_question ${ID} NULL`,
    );
    await runner.query('ALTER TABLE message ADD place LONGTEXT NULL');
    await runner.query('ALTER TABLE copy_mark ADD gone TINYINT NOT NULL DEFAULT 0');
    await runner.query('ALTER TABLE marking ADD left_at SMALLINT UNSIGNED NOT NULL DEFAULT 0');
    await runner.query('ALTER TABLE assignment ADD blind TINYINT NOT NULL DEFAULT 0');
    await runner.query(
      'ALTER TABLE document ADD picture_sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD FOREIGN KEY document_picture (picture_sha256) REFERENCES blob_file (sha256)',
    );
    await runner.query(
      `CREATE TABLE zip_order (id ${ID} NOT NULL PRIMARY KEY, assignment_id ${ID} NOT NULL, by_id ${ID} NOT NULL, copy_ids LONGTEXT NOT NULL,
       sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL, name VARCHAR(255) NOT NULL, created_at ${MOMENT} NOT NULL,
       FOREIGN KEY zip_of (assignment_id) REFERENCES assignment (id), FOREIGN KEY zip_by (by_id) REFERENCES person (id)) ENGINE=InnoDB`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE zip_order');
    await runner.query('ALTER TABLE document DROP FOREIGN KEY document_picture, DROP COLUMN picture_sha256');
    await runner.query('ALTER TABLE assignment DROP COLUMN blind');
    await runner.query('ALTER TABLE marking DROP COLUMN left_at');
    await runner.query('UPDATE copy_mark SET value = NULL WHERE gone = 1');
    await runner.query('ALTER TABLE copy_mark DROP COLUMN gone');
    await runner.query('ALTER TABLE message DROP COLUMN place');
    await runner.query(
      'ALTER TABLE copy DROP COLUMN here_at, DROP COLUMN worked_at, DROP COLUMN at_question',
    );
    await runner.query('DROP TABLE event');
  }
}

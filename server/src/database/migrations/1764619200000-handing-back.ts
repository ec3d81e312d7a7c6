import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, hasColumn, ID, MOMENT, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'recalled_hand_back',
    `id ${ID} NOT NULL PRIMARY KEY, copy_id ${ID} NOT NULL, hand_in_id ${ID} NULL, round INT NOT NULL, handed_back_at ${MOMENT} NOT NULL, by_id ${ID} NOT NULL,
    content LONGTEXT NOT NULL, recalled_at ${MOMENT} NOT NULL, recalled_by_id ${ID} NOT NULL, words VARCHAR(1000) NOT NULL, seen_at ${MOMENT} NULL, heard LONGTEXT NOT NULL,
    KEY recalled_of (copy_id, recalled_at), FOREIGN KEY recalled_copy (copy_id) REFERENCES copy (id)`,
  ],
  [
    'opened',
    `hand_back_id ${ID} NOT NULL, what ${ID} NOT NULL, person_id ${ID} NOT NULL, at ${MOMENT} NOT NULL,
    PRIMARY KEY (hand_back_id, what, person_id), FOREIGN KEY opened_by (person_id) REFERENCES person (id)`,
  ],
  [
    'hand_back_order',
    `id ${ID} NOT NULL PRIMARY KEY, assignment_id ${ID} NOT NULL, by_id ${ID} NOT NULL, made_at ${MOMENT} NOT NULL, at ${MOMENT} NOT NULL,
    copy_ids LONGTEXT NOT NULL, how LONGTEXT NOT NULL, soon TINYINT(1) NOT NULL, state VARCHAR(10) NOT NULL,
    KEY order_of (assignment_id, state), FOREIGN KEY order_of (assignment_id) REFERENCES assignment (id), FOREIGN KEY order_by (by_id) REFERENCES person (id)`,
  ],
  [
    'mail',
    `id ${ID} NOT NULL PRIMARY KEY, person_id ${ID} NOT NULL, address VARCHAR(254) NOT NULL, subject VARCHAR(300) NOT NULL, body LONGTEXT NOT NULL,
    daily TINYINT(1) NOT NULL, made_at ${MOMENT} NOT NULL, not_before ${MOMENT} NOT NULL, sent_at ${MOMENT} NULL, tries INT NOT NULL, trouble VARCHAR(300) NULL,
    KEY mail_of (person_id, made_at), FOREIGN KEY mail_to (person_id) REFERENCES person (id)`,
  ],
  [
    'notice',
    `seq BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, person_id ${ID} NOT NULL, kind VARCHAR(20) NOT NULL, at ${MOMENT} NOT NULL, assignment_id ${ID} NULL,
    copy_id ${ID} NULL, mark_id ${ID} NULL, by_id ${ID} NULL, words VARCHAR(300) NOT NULL, due ${MOMENT} NULL, count INT NOT NULL, once VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NULL,
    read_at ${MOMENT} NULL, hidden TINYINT(1) NOT NULL, mail_id ${ID} NULL, UNIQUE KEY notice_once (person_id, once), KEY notice_of (person_id, seq),
    KEY notice_in (mail_id), FOREIGN KEY notice_for (person_id) REFERENCES person (id)`,
  ],
  [
    'news_choice',
    `person_id ${ID} NOT NULL PRIMARY KEY, content LONGTEXT NOT NULL, FOREIGN KEY choice_of (person_id) REFERENCES person (id)`,
  ],
];

const COLUMNS: readonly (readonly [table: string, column: string, type: string])[] = [
  ['hand_back', 'grade', 'INT NULL'],
  ['hand_back', 'notes', 'INT NOT NULL DEFAULT 0'],
  ['hand_back', 'unfinished', 'TINYINT(1) NOT NULL DEFAULT 0'],
  ['hand_back', 'goes_on', 'TINYINT(1) NOT NULL DEFAULT 0'],
  ['hand_back', 'told', 'TINYINT(1) NOT NULL DEFAULT 1'],
  ['marking', 'became', 'LONGTEXT NULL'],
  ['marking', 'became_version', `${ID} NULL`],
  ['message', 'edited_at', `${MOMENT} NULL`],
  ['message', 'withdrawn_at', `${MOMENT} NULL`],
];

/** Kinds of marks that stand in the margin, as they are called in what was handed back. */
const NOTES = ['note', 'cut', 'add', 'swap'];

/**
 * Handing back: hand-backs that are taken back in, at a set time, unfinished; what was opened of them; news and letters. Going down drops what was taken
 * back in, and hand-backs that are not the newest of their hand-in.
 */
export class HandingBack1764619200000 implements MigrationInterface {
  name = 'HandingBack1764619200000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
    const before = await hasColumn(runner, 'hand_back', 'notes');
    for (const [table, column, type] of COLUMNS)
      if (!(await hasColumn(runner, table, column)))
        await runner.query(`ALTER TABLE ${table} ADD COLUMN ${column} ${type}`);
    if (!before)
      await runner.query(
        `UPDATE hand_back b SET b.grade = JSON_VALUE(b.content, '$.grade'), b.notes = ${NOTES.map(
          (kind) =>
            `COALESCE(JSON_LENGTH(JSON_SEARCH(b.content, 'all', '${kind}', NULL, '$.marks[*].kind')), 0)`,
        ).join(' + ')}`,
      );
  }

  async down(runner: QueryRunner): Promise<void> {
    if (await hasColumn(runner, 'hand_back', 'goes_on')) {
      const older =
        'FROM hand_back b JOIN hand_back n ON n.copy_id = b.copy_id AND n.hand_in_id <=> b.hand_in_id AND n.round > b.round AND b.round > 0';
      await runner.query(`DELETE v FROM voice_handed_back v WHERE v.hand_back_id IN (SELECT b.id ${older})`);
      await runner.query(`DELETE p FROM hand_back_pdf p WHERE p.hand_back_id IN (SELECT b.id ${older})`);
      await runner.query(`DELETE b ${older}`);
      await runner.query('UPDATE hand_back SET round = 1 WHERE round > 1');
    }
    for (const [table, column] of COLUMNS.toReversed())
      if (await hasColumn(runner, table, column))
        await runner.query(`ALTER TABLE ${table} DROP COLUMN ${column}`);
    await dropTables(runner, CREATE);
    await runner.query(`DELETE FROM job WHERE kind IN ('hand-back', 'mail')`);
  }
}

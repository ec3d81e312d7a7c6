import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, hasColumn, ID, MOMENT, SHA, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'voice',
    `sha256 ${SHA} NOT NULL PRIMARY KEY, type VARCHAR(20) NOT NULL, owner_id ${ID} NOT NULL, kept_at ${MOMENT} NOT NULL, plain_sha256 ${SHA} NULL,
    FOREIGN KEY voice_bytes (sha256) REFERENCES blob_file (sha256), FOREIGN KEY voice_plain (plain_sha256) REFERENCES blob_file (sha256),
    FOREIGN KEY voice_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'voice_part',
    `owner_id ${ID} NOT NULL, sha256 ${SHA} NOT NULL, n SMALLINT UNSIGNED NOT NULL, bytes MEDIUMBLOB NOT NULL, at ${MOMENT} NOT NULL,
    PRIMARY KEY (owner_id, sha256, n), KEY voice_part_age (at), FOREIGN KEY voice_part_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'voice_on_copy',
    `sha256 ${SHA} NOT NULL, copy_id ${ID} NOT NULL, PRIMARY KEY (sha256, copy_id), KEY voice_copy (copy_id),
    FOREIGN KEY voice_on (sha256) REFERENCES voice (sha256), FOREIGN KEY voice_copy (copy_id) REFERENCES copy (id) ON DELETE CASCADE`,
  ],
  [
    'voice_handed_back',
    `sha256 ${SHA} NOT NULL, hand_back_id ${ID} NOT NULL, PRIMARY KEY (sha256, hand_back_id), KEY voice_back (hand_back_id),
    FOREIGN KEY voice_given (sha256) REFERENCES voice (sha256), FOREIGN KEY voice_back (hand_back_id) REFERENCES hand_back (id) ON DELETE CASCADE`,
  ],
  [
    'heard',
    `hand_back_id ${ID} NOT NULL, sha256 ${SHA} NOT NULL, person_id ${ID} NOT NULL, reached INT NOT NULL, stopped_at INT NOT NULL, at ${MOMENT} NOT NULL,
    PRIMARY KEY (hand_back_id, sha256, person_id), KEY heard_by (person_id),
    FOREIGN KEY heard_of (hand_back_id) REFERENCES hand_back (id) ON DELETE CASCADE, FOREIGN KEY heard_by (person_id) REFERENCES person (id)`,
  ],
];

const COLUMNS: readonly (readonly [table: string, column: string, type: string])[] = [
  ['marking', 'voice', 'LONGTEXT NULL'],
  ['marking', 'voice_version', `${ID} NULL`],
];

/** What is said: recordings, who may hear them, how far they were heard, and the slip's own. Going down drops them. */
export class Voice1764446400000 implements MigrationInterface {
  name = 'Voice1764446400000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
    for (const [table, column, type] of COLUMNS)
      if (!(await hasColumn(runner, table, column)))
        await runner.query(`ALTER TABLE ${table} ADD COLUMN ${column} ${type}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS.toReversed())
      if (await hasColumn(runner, table, column))
        await runner.query(`ALTER TABLE ${table} DROP COLUMN ${column}`);
    await dropTables(runner, CREATE);
  }
}

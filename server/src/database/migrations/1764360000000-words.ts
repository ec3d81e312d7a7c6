import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, hasColumn, ID, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'phrase_group',
    `owner_id ${ID} NOT NULL, name VARCHAR(60) NOT NULL COLLATE utf8mb4_bin, position INT NOT NULL, PRIMARY KEY (owner_id, name),
    FOREIGN KEY group_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'bank',
    `owner_id ${ID} NOT NULL PRIMARY KEY, seq INT NOT NULL, FOREIGN KEY bank_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'focus',
    `owner_id ${ID} NOT NULL, name VARCHAR(40) NOT NULL COLLATE utf8mb4_bin, colour VARCHAR(12) NOT NULL, sign VARCHAR(12) NOT NULL,
    position INT NOT NULL, PRIMARY KEY (owner_id, name),
    FOREIGN KEY focus_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'help_file',
    `document_id ${ID} NOT NULL, copy_id ${ID} NOT NULL, PRIMARY KEY (document_id, copy_id), KEY help_copy (copy_id),
    FOREIGN KEY help_document (document_id) REFERENCES document (id) ON DELETE CASCADE,
    FOREIGN KEY help_copy (copy_id) REFERENCES copy (id) ON DELETE CASCADE`,
  ],
];

const COLUMNS: readonly (readonly [table: string, column: string, type: string])[] = [
  ['phrase', 'points', 'INT NULL'],
  ['phrase', 'colour', 'VARCHAR(12) NULL'],
  ['phrase', 'fav_key', 'VARCHAR(1) NULL'],
  ['phrase', 'asked', 'LONGTEXT NULL'],
  ['phrase', 'ink', 'LONGTEXT NULL'],
  ['phrase_use', 'mark_id', `${ID} NULL`],
  ['message', 'act', 'VARCHAR(12) NULL'],
];

/** What banks, focuses and conversations learned: favourites, points, groups in an order, what was done with a note, files beside words. Going down drops it. */
export class Words1764360000000 implements MigrationInterface {
  name = 'Words1764360000000';

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

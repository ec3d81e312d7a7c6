import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, hasColumn, ID, MOMENT, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'score',
    `marking_id ${ID} NOT NULL, subject VARCHAR(50) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, version ${ID} NULL, value LONGTEXT NULL,
    PRIMARY KEY (marking_id, subject), FOREIGN KEY score_of (marking_id) REFERENCES marking (id) ON DELETE CASCADE`,
  ],
  [
    'evening',
    `id ${ID} NOT NULL PRIMARY KEY, assignment_id ${ID} NOT NULL, by_id ${ID} NOT NULL, at ${MOMENT} NOT NULL, how LONGTEXT NOT NULL, reason VARCHAR(1000) NOT NULL,
    changes LONGTEXT NOT NULL, undone_at ${MOMENT} NULL, KEY evening_of (assignment_id, at),
    FOREIGN KEY evening_of (assignment_id) REFERENCES assignment (id), FOREIGN KEY evening_by (by_id) REFERENCES person (id)`,
  ],
];

const COLUMNS: readonly (readonly [table: string, column: string, type: string])[] = [
  ['marking', 'lifted', 'TINYINT(1) NOT NULL DEFAULT 0'],
  ['marking', 'lifted_version', `${ID} NULL`],
  ['marking', 'midway', `LONGTEXT NOT NULL DEFAULT ''`],
  ['marking', 'midway_version', `${ID} NULL`],
  ['marking', 'second', 'LONGTEXT NULL'],
  ['marking', 'second_version', `${ID} NULL`],
  ['marking', 'computed', 'INT NULL'],
  ['assignment', 'scoring', 'LONGTEXT NULL'],
  ['worksheet', 'answer_keys', 'LONGTEXT NULL'],
  ['rubric', 'put_away_at', 'DATETIME(3) NULL'],
];

/** Scores of questions and criteria, computed grades, how an assignment is scored, keys of questions, and how piles were evened out. Going down drops them. */
export class Scores1764532800000 implements MigrationInterface {
  name = 'Scores1764532800000';

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

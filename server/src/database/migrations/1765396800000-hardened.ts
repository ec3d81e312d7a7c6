import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, hasColumn, ID, MOMENT, SHA, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'known_device',
    `token_hash ${SHA} NOT NULL, person_id ${ID} NOT NULL, at ${MOMENT} NOT NULL, PRIMARY KEY (token_hash, person_id), KEY device_at (at),
    FOREIGN KEY device_of (person_id) REFERENCES person (id)`,
  ],
  [
    'consent',
    `id ${ID} NOT NULL PRIMARY KEY, class_id ${ID} NOT NULL, person_id ${ID} NOT NULL, asked_by_id ${ID} NOT NULL, asked_at ${MOMENT} NOT NULL,
    answered_by_id ${ID} NULL, answered_at ${MOMENT} NULL, granted BOOLEAN NULL, KEY consent_open (answered_at, person_id),
    FOREIGN KEY consent_class (class_id) REFERENCES school_class (id), FOREIGN KEY consent_person (person_id) REFERENCES person (id),
    FOREIGN KEY consent_by (asked_by_id) REFERENCES person (id)`,
  ],
];

const COLUMNS: readonly (readonly [table: string, column: string, type: string])[] = [
  ['assignment', 'take_back', `VARCHAR(12) NOT NULL DEFAULT 'until-marked'`],
  ['document', 'taken_away_at', `${MOMENT} NULL`],
  ['person', 'step_secret', 'VARCHAR(64) NULL'],
  ['person', 'step_on', 'BOOLEAN NOT NULL DEFAULT FALSE'],
  ['person', 'step_used', 'BIGINT NULL'],
  ['person', 'device_key', 'VARCHAR(44) NULL'],
  ['person', 'reset_by_id', `${ID} NULL`],
  ['person', 'reset_at', `${MOMENT} NULL`],
  ['session', 'device', `VARCHAR(200) NOT NULL DEFAULT ''`],
  ['session', 'begun_at', `${MOMENT} NULL`],
  ['session', 'used_at', `${MOMENT} NULL`],
  ['attempt', 'last_at', `${MOMENT} NULL`],
];

/**
 * The school's administrators, a second step at signing in, devices that are known, where somebody is signed in, how long work can be taken back. Going
 * down, administrators become teachers of no class, second steps and devices are forgotten, and questions about who joins a class are dropped.
 */
export class Hardened1765396800000 implements MigrationInterface {
  readonly name = 'Hardened1765396800000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
    for (const [table, column, type] of COLUMNS)
      if (!(await hasColumn(runner, table, column)))
        await runner.query(`ALTER TABLE ${table} ADD COLUMN ${column} ${type}`);
    await runner.query('ALTER TABLE person MODIFY role VARCHAR(16) NOT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`UPDATE person SET role = 'teacher' WHERE role = 'administrator'`);
    await runner.query('ALTER TABLE person MODIFY role VARCHAR(10) NOT NULL');
    for (const [table, column] of COLUMNS)
      if (await hasColumn(runner, table, column))
        await runner.query(`ALTER TABLE ${table} DROP COLUMN ${column}`);
    await dropTables(runner, CREATE);
  }
}

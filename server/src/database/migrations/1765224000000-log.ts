import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, hasColumn, ID, MOMENT, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'remark',
    `id ${ID} NOT NULL PRIMARY KEY, class_id ${ID} NOT NULL, by_id ${ID} NOT NULL, at ${MOMENT} NOT NULL, made_at ${MOMENT} NOT NULL,
    words TEXT NOT NULL, work VARCHAR(40) NOT NULL, strand VARCHAR(60) NOT NULL,
    KEY remark_of (class_id, at), FOREIGN KEY remark_class (class_id) REFERENCES school_class (id), FOREIGN KEY remark_by (by_id) REFERENCES person (id)`,
  ],
  [
    'remark_student',
    `remark_id ${ID} NOT NULL, person_id ${ID} NOT NULL, PRIMARY KEY (remark_id, person_id),
    FOREIGN KEY remark_told (remark_id) REFERENCES remark (id), FOREIGN KEY remark_to (person_id) REFERENCES person (id)`,
  ],
  [
    'remark_answer',
    `id ${ID} NOT NULL PRIMARY KEY, remark_id ${ID} NOT NULL, person_id ${ID} NOT NULL, by_id ${ID} NOT NULL, at ${MOMENT} NOT NULL,
    words TEXT NOT NULL, quote VARCHAR(300) NOT NULL, seen_at ${MOMENT} NULL,
    KEY answer_of (remark_id, person_id, at), FOREIGN KEY answer_remark (remark_id) REFERENCES remark (id),
    FOREIGN KEY answer_in (person_id) REFERENCES person (id), FOREIGN KEY answer_by (by_id) REFERENCES person (id)`,
  ],
  [
    'report',
    `class_id ${ID} NOT NULL, person_id ${ID} NOT NULL, term VARCHAR(40) NOT NULL, words LONGTEXT NOT NULL, changed_at ${MOMENT} NOT NULL, by_id ${ID} NOT NULL,
    PRIMARY KEY (class_id, person_id, term), FOREIGN KEY report_class (class_id) REFERENCES school_class (id), FOREIGN KEY report_of (person_id) REFERENCES person (id)`,
  ],
  [
    'open_address',
    `token VARCHAR(43) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, kind VARCHAR(12) NOT NULL, class_id ${ID} NOT NULL, person_id ${ID} NOT NULL,
    made_by_id ${ID} NOT NULL, made_at ${MOMENT} NOT NULL, UNIQUE KEY open_once (kind, class_id, person_id),
    FOREIGN KEY open_class (class_id) REFERENCES school_class (id), FOREIGN KEY open_person (person_id) REFERENCES person (id)`,
  ],
  [
    'act_log',
    `seq BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, at ${MOMENT} NOT NULL, by_id ${ID} NOT NULL, act VARCHAR(30) NOT NULL, class_id ${ID} NULL, assignment_id ${ID} NULL,
    copy_id ${ID} NULL, person_id ${ID} NULL, KEY act_at (at), KEY act_class (class_id, at), KEY act_assignment (assignment_id, at), KEY act_copy (copy_id, at)`,
  ],
];

const COLUMNS: readonly (readonly [table: string, column: string, type: string])[] = [
  ['notice', 'class_id', `${ID} NULL`],
  ['school_class', 'archived_at', `${MOMENT} NULL`],
];

/** What is said without a copy, reports, addresses that open something, archived classes. Going down loses all of it; archived classes are classes again. */
export class Log1765224000000 implements MigrationInterface {
  readonly name = 'Log1765224000000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
    for (const [table, column, type] of COLUMNS)
      if (!(await hasColumn(runner, table, column)))
        await runner.query(`ALTER TABLE ${table} ADD COLUMN ${column} ${type}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DELETE FROM notice WHERE kind IN ('remark', 'remark-answered')`);
    for (const [table, column] of COLUMNS)
      if (await hasColumn(runner, table, column))
        await runner.query(`ALTER TABLE ${table} DROP COLUMN ${column}`);
    await dropTables(runner, CREATE);
  }
}

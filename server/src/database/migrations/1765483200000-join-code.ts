import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, ID, MOMENT, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'join_code',
    `class_id ${ID} NOT NULL PRIMARY KEY, code VARCHAR(6) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, made_at ${MOMENT} NOT NULL, UNIQUE KEY join_code_of (code),
    FOREIGN KEY join_code_class (class_id) REFERENCES school_class (id)`,
  ],
];

/** Codes by which students ask to be let into a class. Going down they are forgotten. */
export class JoinCode1765483200000 implements MigrationInterface {
  readonly name = 'JoinCode1765483200000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
  }

  async down(runner: QueryRunner): Promise<void> {
    await dropTables(runner, CREATE);
  }
}

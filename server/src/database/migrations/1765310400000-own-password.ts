import type { MigrationInterface, QueryRunner } from 'typeorm';
import { hasColumn } from './again.ts';

/** Whether somebody's password was made by another, on a sheet: they choose their own when they sign in with it. Going down it is forgotten. */
export class OwnPassword1765310400000 implements MigrationInterface {
  readonly name = 'OwnPassword1765310400000';

  async up(runner: QueryRunner): Promise<void> {
    if (!(await hasColumn(runner, 'person', 'first_password')))
      await runner.query('ALTER TABLE person ADD COLUMN first_password BOOLEAN NOT NULL DEFAULT FALSE');
  }

  async down(runner: QueryRunner): Promise<void> {
    if (await hasColumn(runner, 'person', 'first_password'))
      await runner.query('ALTER TABLE person DROP COLUMN first_password');
  }
}

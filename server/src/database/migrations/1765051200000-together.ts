import type { MigrationInterface, QueryRunner } from 'typeorm';
import { hasColumn } from './again.ts';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/** How students work together on an assignment, and grades of single members of a group. Going down loses both; who shares a copy stays. */
export class Together1765051200000 implements MigrationInterface {
  readonly name = 'Together1765051200000';

  async up(runner: QueryRunner): Promise<void> {
    if (!(await hasColumn(runner, 'assignment', 'together')))
      await runner.query('ALTER TABLE assignment ADD COLUMN together LONGTEXT NULL');
    if (!(await hasColumn(runner, 'marking', 'own')))
      await runner.query('ALTER TABLE marking ADD COLUMN own LONGTEXT NULL');
    if (!(await hasColumn(runner, 'marking', 'own_version')))
      await runner.query(`ALTER TABLE marking ADD COLUMN own_version ${ID} NULL`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const [table, column] of [
      ['assignment', 'together'],
      ['marking', 'own'],
      ['marking', 'own_version'],
    ] as const)
      if (await hasColumn(runner, table, column))
        await runner.query(`ALTER TABLE ${table} DROP COLUMN ${column}`);
  }
}

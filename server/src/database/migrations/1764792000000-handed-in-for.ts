import type { MigrationInterface, QueryRunner } from 'typeorm';
import { hasColumn } from './again.ts';

/** A hand-in knows what a teacher brought for it. Going down forgets who brought what; the files stay. */
export class HandedInFor1764792000000 implements MigrationInterface {
  readonly name = 'HandedInFor1764792000000';

  async up(runner: QueryRunner): Promise<void> {
    if (!(await hasColumn(runner, 'hand_in', 'brought')))
      await runner.query('ALTER TABLE hand_in ADD COLUMN brought LONGTEXT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query("DELETE FROM notice WHERE kind = 'handed-in-for'");
    if (await hasColumn(runner, 'hand_in', 'brought'))
      await runner.query('ALTER TABLE hand_in DROP COLUMN brought');
  }
}

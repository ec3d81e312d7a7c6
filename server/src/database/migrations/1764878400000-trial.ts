import type { MigrationInterface, QueryRunner } from 'typeorm';
import { deleteDeep } from '../delete-deep.ts';
import { hasColumn, ID } from './again.ts';

/** Trial runs of assignments. Going down ends them all: an older form would show them as work that was put away. */
export class Trial1764878400000 implements MigrationInterface {
  readonly name = 'Trial1764878400000';

  async up(runner: QueryRunner): Promise<void> {
    if (await hasColumn(runner, 'assignment', 'trial_of')) return;
    await runner.query(`ALTER TABLE assignment ADD COLUMN trial_of ${ID} NULL, ADD KEY trial_of (trial_of)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    if (!(await hasColumn(runner, 'assignment', 'trial_of'))) return;
    const trials: { id: string }[] = await runner.query(
      'SELECT id FROM assignment WHERE trial_of IS NOT NULL',
    );
    await deleteDeep(
      runner.manager,
      'assignment',
      trials.map((t) => t.id),
    );
    await runner.query('ALTER TABLE assignment DROP KEY trial_of, DROP COLUMN trial_of');
  }
}

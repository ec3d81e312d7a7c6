import type { MigrationInterface, QueryRunner } from 'typeorm';
import { hasColumn } from './again.ts';

/**
 * The PDF of a hand-back has a cover sheet, and where the grade shows after reading there are two. What was made before is made anew when it is asked
 * for: it can be, at any time, so going up and down drops it.
 */
export class CoverSheet1764705600000 implements MigrationInterface {
  readonly name = 'CoverSheet1764705600000';

  async up(runner: QueryRunner): Promise<void> {
    await forget(runner);
    if (await hasColumn(runner, 'hand_back_pdf', 'graded')) return;
    await runner.query(
      'ALTER TABLE hand_back_pdf ADD COLUMN graded TINYINT(1) NOT NULL AFTER hand_back_id, DROP PRIMARY KEY, ADD PRIMARY KEY (hand_back_id, graded)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await forget(runner);
    if (await hasColumn(runner, 'hand_back_pdf', 'graded'))
      await runner.query(
        'ALTER TABLE hand_back_pdf DROP PRIMARY KEY, ADD PRIMARY KEY (hand_back_id), DROP COLUMN graded',
      );
  }
}

async function forget(runner: QueryRunner): Promise<void> {
  await runner.query('DELETE FROM hand_back_pdf');
  await runner.query("DELETE FROM job WHERE kind = 'hand-back-pdf'");
}

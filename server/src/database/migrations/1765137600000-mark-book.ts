import type { MigrationInterface, QueryRunner } from 'typeorm';
import { hasColumn } from './again.ts';

/** How the mark book of a class adds up. Going down forgets it. */
export class MarkBook1765137600000 implements MigrationInterface {
  readonly name = 'MarkBook1765137600000';

  async up(runner: QueryRunner): Promise<void> {
    if (!(await hasColumn(runner, 'school_class', 'book_rule')))
      await runner.query('ALTER TABLE school_class ADD COLUMN book_rule LONGTEXT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    if (await hasColumn(runner, 'school_class', 'book_rule'))
      await runner.query('ALTER TABLE school_class DROP COLUMN book_rule');
  }
}

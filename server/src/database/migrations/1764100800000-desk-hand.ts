import type { MigrationInterface, QueryRunner } from 'typeorm';
import { ID } from './again.ts';

/** The teacher's own pens. */
export class DeskHand1764100800000 implements MigrationInterface {
  readonly name = 'DeskHand1764100800000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE IF NOT EXISTS pen_trays (person_id ${ID} NOT NULL PRIMARY KEY, content LONGTEXT NOT NULL, at DATETIME(3) NOT NULL,
       FOREIGN KEY trays_of (person_id) REFERENCES person (id)) ENGINE=InnoDB`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE IF EXISTS pen_trays');
  }
}

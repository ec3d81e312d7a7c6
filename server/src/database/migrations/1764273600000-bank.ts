import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, ID, MOMENT, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'phrase',
    `id ${ID} NOT NULL PRIMARY KEY, owner_id ${ID} NOT NULL, words TEXT NOT NULL, in_group VARCHAR(60) NOT NULL, focus VARCHAR(40) NULL,
    uses INT NOT NULL, used_at ${MOMENT} NULL, created_at ${MOMENT} NOT NULL, KEY phrase_bank (owner_id, created_at),
    FOREIGN KEY phrase_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'phrase_use',
    `id ${ID} NOT NULL PRIMARY KEY, phrase_id ${ID} NOT NULL, hand_in_id ${ID} NOT NULL, at ${MOMENT} NOT NULL,
    FOREIGN KEY use_phrase (phrase_id) REFERENCES phrase (id) ON DELETE CASCADE,
    FOREIGN KEY use_hand_in (hand_in_id) REFERENCES hand_in (id) ON DELETE CASCADE`,
  ],
];

/** Comment banks. Going down drops them. */
export class Bank1764273600000 implements MigrationInterface {
  name = 'Bank1764273600000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
  }

  async down(runner: QueryRunner): Promise<void> {
    await dropTables(runner, CREATE);
  }
}

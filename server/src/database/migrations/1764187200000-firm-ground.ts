import { createHash } from 'node:crypto';
import { readHandInContent, readQuestions } from '@jotmark/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import {
  createTables,
  dropTables,
  eachRow,
  hasColumn,
  hasTable,
  ID,
  MOMENT,
  primaryKeyOf,
  SHA,
  type Tables,
} from './again.ts';
import { bytesApart, bytesBack, keepBytes, readKept } from './bytes-apart.ts';

const CREATE: Tables = [
  [
    'rubric',
    `id ${ID} NOT NULL PRIMARY KEY, owner_id ${ID} NOT NULL, name VARCHAR(200) NOT NULL, created_at ${MOMENT} NOT NULL,
    FOREIGN KEY rubric_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'rubric_version',
    `id ${ID} NOT NULL PRIMARY KEY, rubric_id ${ID} NOT NULL, number INT NOT NULL, content LONGTEXT NOT NULL, created_at ${MOMENT} NOT NULL,
    UNIQUE KEY rubric_version_once (rubric_id, number), FOREIGN KEY rubric_version_of (rubric_id) REFERENCES rubric (id)`,
  ],
  [
    'copy_member',
    `copy_id ${ID} NOT NULL, person_id ${ID} NOT NULL, assignment_id ${ID} NOT NULL, PRIMARY KEY (copy_id, person_id),
    UNIQUE KEY member_once (person_id, assignment_id), FOREIGN KEY member_copy (copy_id) REFERENCES copy (id),
    FOREIGN KEY member_person (person_id) REFERENCES person (id)`,
  ],
  [
    'picture',
    `sha256 ${SHA} NOT NULL PRIMARY KEY, created_at ${MOMENT} NOT NULL, FOREIGN KEY picture_blob (sha256) REFERENCES blob_file (sha256)`,
  ],
  [
    'hand_in_answer',
    `hand_in_id ${ID} NOT NULL, question_id ${ID} NOT NULL, version_id ${ID} NOT NULL, kind VARCHAR(12) NOT NULL, value LONGTEXT NOT NULL,
    digest ${SHA} NOT NULL, points INT NULL, PRIMARY KEY (hand_in_id, question_id), KEY answer_across (question_id, digest),
    FOREIGN KEY answer_hand_in (hand_in_id) REFERENCES hand_in (id) ON DELETE CASCADE`,
  ],
  [
    'job_file',
    `job_id ${ID} NOT NULL, position INT NOT NULL, name VARCHAR(255) NOT NULL, sha256 ${SHA} NOT NULL, PRIMARY KEY (job_id, position),
    FOREIGN KEY job_file_of (job_id) REFERENCES job (id) ON DELETE CASCADE, FOREIGN KEY job_file_blob (sha256) REFERENCES blob_file (sha256)`,
  ],
];

/** Needs the marking's own id first. */
const ROUNDS: Tables = [
  [
    'marking_round',
    `marking_id ${ID} NOT NULL, number INT NOT NULL, kind VARCHAR(10) NOT NULL, begun_at ${MOMENT} NOT NULL, released_at ${MOMENT} NULL,
    PRIMARY KEY (marking_id, number), FOREIGN KEY round_of (marking_id) REFERENCES marking (id) ON DELETE CASCADE`,
  ],
];

const ZIP_ORDER: Tables = [
  [
    'zip_order',
    `id ${ID} NOT NULL PRIMARY KEY, assignment_id ${ID} NOT NULL, by_id ${ID} NOT NULL, copy_ids LONGTEXT NOT NULL,
    sha256 ${SHA} NULL, name VARCHAR(255) NOT NULL, created_at ${MOMENT} NOT NULL,
    FOREIGN KEY zip_of (assignment_id) REFERENCES assignment (id), FOREIGN KEY zip_by (by_id) REFERENCES person (id)`,
  ],
];

/** Text layers and shapes become kept bytes, so that they are passed on without being opened. */
const LAYERS = ['document_text', 'document_shapes'] as const;

/** Where values of core lie that may have bytes in them. */
const VALUES = [
  { table: 'mark', keys: ['marking_id', 'id'], column: 'value' },
  { table: 'marking_change', keys: ['marking_id', 'seq'], column: 'value' },
  { table: 'hand_back', keys: ['id'], column: 'content' },
  { table: 'pen_trays', keys: ['person_id'], column: 'content' },
] as const;
/** Student's values have no bytes, but versions that the code of before cannot read. */
const MORE_VALUES = [
  { table: 'copy_mark', keys: ['copy_id', 'id'], column: 'value' },
  { table: 'hand_in', keys: ['id'], column: 'content' },
  { table: 'taken_back', keys: ['id'], column: 'content' },
] as const;

/**
 * Firm ground: copies of several students, markings with an id and rounds of their own, answers as rows, rubrics on assignments, fenced and fair
 * jobs, bytes apart from values.
 */
export class FirmGround1764187200000 implements MigrationInterface {
  readonly name = 'FirmGround1764187200000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
    await runner.query(
      `ALTER TABLE assignment ADD COLUMN IF NOT EXISTS rubric_version_id ${ID} NULL,
       ADD FOREIGN KEY IF NOT EXISTS assignment_rubric (rubric_version_id) REFERENCES rubric_version (id)`,
    );
    await this.#membersUp(runner);
    await this.#markingsUp(runner);
    await runner.query(
      `ALTER TABLE hand_back ADD COLUMN IF NOT EXISTS round INT NOT NULL DEFAULT 1, MODIFY hand_in_id ${ID} NULL, ADD UNIQUE KEY IF NOT EXISTS hand_back_round (hand_in_id, round)`,
    );
    await runner.query('ALTER TABLE hand_back DROP KEY IF EXISTS hand_back_once');
    await runner.query(
      `ALTER TABLE job ADD COLUMN IF NOT EXISTS facts LONGTEXT NULL, ADD COLUMN IF NOT EXISTS claim ${ID} NULL, ADD COLUMN IF NOT EXISTS not_before ${MOMENT} NULL,
       ADD COLUMN IF NOT EXISTS person_id ${ID} NULL, ADD COLUMN IF NOT EXISTS size INT NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS awaited TINYINT NOT NULL DEFAULT 0,
       ADD COLUMN IF NOT EXISTS slow TINYINT NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS input LONGTEXT NULL, ADD COLUMN IF NOT EXISTS result LONGTEXT NULL,
       DROP COLUMN IF EXISTS claimed_by`,
    );
    // A zip is made anew in no time; what was ordered before is forgotten.
    await runner.query(`DELETE FROM job WHERE kind = 'zip-originals' AND input IS NULL`);
    await dropTables(runner, ZIP_ORDER);
    for (const table of LAYERS) await this.#layerUp(runner, table);
    for (const { table, keys, column } of VALUES)
      await eachRow(
        runner,
        table,
        keys,
        [column],
        `${column} LIKE '%"png":"%' OR ${column} LIKE '%"pdf":"JVBER%'`,
        async (row) => {
          const kept: Uint8Array[] = [];
          const value = JSON.stringify(bytesApart(JSON.parse(row[column]!), kept));
          for (const bytes of kept) await keepBytes(runner, bytes, true);
          await setValue(runner, table, keys, row, column, value);
        },
      );
    await this.#answersUp(runner);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const { table, keys, column } of [...VALUES, ...MORE_VALUES])
      if (await hasColumn(runner, table, keys[0]))
        await eachRow(runner, table, keys, [column], `${column} LIKE '%"v":2%'`, async (row) => {
          const value = await bytesBack(JSON.parse(row[column]!), (sha256) => readKept(runner, sha256));
          await setValue(runner, table, keys, row, column, JSON.stringify(value));
        });
    for (const table of LAYERS) await this.#layerDown(runner, table);
    await createTables(runner, ZIP_ORDER);
    await runner.query(`DELETE FROM job WHERE kind IN ('arrive', 'bring-in', 'marked-pdf', 'zip-originals')`);
    await runner.query(
      `ALTER TABLE job DROP COLUMN IF EXISTS facts, DROP COLUMN IF EXISTS claim, DROP COLUMN IF EXISTS not_before, DROP COLUMN IF EXISTS person_id,
       DROP COLUMN IF EXISTS size, DROP COLUMN IF EXISTS awaited, DROP COLUMN IF EXISTS slow, DROP COLUMN IF EXISTS input, DROP COLUMN IF EXISTS result,
       ADD COLUMN IF NOT EXISTS claimed_by VARCHAR(60) NULL`,
    );
    // Rounds that were released without a hand-in have no place in the old form.
    if (await hasColumn(runner, 'hand_back', 'round')) {
      await runner.query(
        'DELETE p FROM hand_back_pdf p JOIN hand_back b ON b.id = p.hand_back_id WHERE b.hand_in_id IS NULL OR b.round > 1',
      );
      await runner.query('DELETE FROM hand_back WHERE hand_in_id IS NULL OR round > 1');
    }
    await runner.query(
      `ALTER TABLE hand_back MODIFY hand_in_id ${ID} NOT NULL, ADD UNIQUE KEY IF NOT EXISTS hand_back_once (hand_in_id)`,
    );
    await runner.query(
      'ALTER TABLE hand_back DROP KEY IF EXISTS hand_back_round, DROP COLUMN IF EXISTS round',
    );
    await this.#markingsDown(runner);
    await this.#membersDown(runner);
    await runner.query(
      'ALTER TABLE assignment DROP FOREIGN KEY IF EXISTS assignment_rubric, DROP COLUMN IF EXISTS rubric_version_id',
    );
    await dropTables(runner, CREATE);
  }

  async #membersUp(runner: QueryRunner): Promise<void> {
    if (await hasColumn(runner, 'copy', 'student_id')) {
      await runner.query(
        'INSERT IGNORE INTO copy_member (copy_id, person_id, assignment_id) SELECT id, student_id, assignment_id FROM copy',
      );
      await runner.query('ALTER TABLE copy ADD KEY IF NOT EXISTS copy_of (assignment_id)');
      await runner.query('ALTER TABLE copy DROP FOREIGN KEY IF EXISTS copy_student');
      await runner.query('ALTER TABLE copy DROP KEY IF EXISTS copy_once, DROP KEY IF EXISTS copy_student');
      await runner.query('ALTER TABLE copy DROP COLUMN IF EXISTS student_id');
    }
    await runner.query(`ALTER TABLE hand_in ADD COLUMN IF NOT EXISTS by_id ${ID} NULL`);
    await runner.query(
      'UPDATE hand_in h SET h.by_id = (SELECT MIN(m.person_id) FROM copy_member m WHERE m.copy_id = h.copy_id) WHERE h.by_id IS NULL',
    );
  }

  async #membersDown(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE hand_in DROP COLUMN IF EXISTS by_id');
    if (!(await hasTable(runner, 'copy_member'))) return;
    await runner.query(`ALTER TABLE copy ADD COLUMN IF NOT EXISTS student_id ${ID} NULL`);
    // A copy has one student in the old form: of several, the first keeps it.
    await runner.query(
      'UPDATE copy c SET c.student_id = (SELECT MIN(m.person_id) FROM copy_member m WHERE m.copy_id = c.id) WHERE c.student_id IS NULL',
    );
    await runner.query(
      `ALTER TABLE copy MODIFY student_id ${ID} NOT NULL, ADD UNIQUE KEY IF NOT EXISTS copy_once (assignment_id, student_id)`,
    );
    await runner.query('ALTER TABLE copy DROP KEY IF EXISTS copy_of');
    await runner.query(
      'ALTER TABLE copy ADD FOREIGN KEY IF NOT EXISTS copy_student (student_id) REFERENCES person (id)',
    );
  }

  /** A marking had its hand-in's id; it keeps it as its own. */
  async #markingsUp(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE mark DROP FOREIGN KEY IF EXISTS mark_of');
    await runner.query('ALTER TABLE marking_change DROP FOREIGN KEY IF EXISTS change_of');
    await runner.query(
      `ALTER TABLE marking ADD COLUMN IF NOT EXISTS id ${ID} NULL FIRST, ADD COLUMN IF NOT EXISTS copy_id ${ID} NULL AFTER id,
       ADD COLUMN IF NOT EXISTS number INT NOT NULL DEFAULT 0`,
    );
    await runner.query(
      'UPDATE marking m JOIN hand_in h ON h.id = m.hand_in_id SET m.id = m.hand_in_id, m.copy_id = h.copy_id, m.number = h.number WHERE m.copy_id IS NULL',
    );
    await runner.query('ALTER TABLE marking ADD UNIQUE KEY IF NOT EXISTS marking_hand_in (hand_in_id)');
    if ((await primaryKeyOf(runner, 'marking')) !== 'id')
      await runner.query(
        `ALTER TABLE marking DROP PRIMARY KEY, MODIFY id ${ID} NOT NULL, MODIFY copy_id ${ID} NOT NULL, MODIFY hand_in_id ${ID} NULL, ADD PRIMARY KEY (id)`,
      );
    await runner.query(
      `ALTER TABLE marking ADD UNIQUE KEY IF NOT EXISTS marking_once (copy_id, number), ADD FOREIGN KEY IF NOT EXISTS marking_copy (copy_id) REFERENCES copy (id)`,
    );
    for (const [table, key] of [
      ['mark', 'mark_of'],
      ['marking_change', 'change_of'],
    ]) {
      await runner.query(`ALTER TABLE ${table} CHANGE COLUMN IF EXISTS hand_in_id marking_id ${ID} NOT NULL`);
      await runner.query(
        `ALTER TABLE ${table} ADD FOREIGN KEY IF NOT EXISTS ${key} (marking_id) REFERENCES marking (id)`,
      );
    }
    await createTables(runner, ROUNDS);
  }

  async #markingsDown(runner: QueryRunner): Promise<void> {
    await dropTables(runner, ROUNDS);
    for (const [table, key] of [
      ['mark', 'mark_of'],
      ['marking_change', 'change_of'],
    ]) {
      await runner.query(`ALTER TABLE ${table} DROP FOREIGN KEY IF EXISTS ${key}`);
      if (await hasColumn(runner, table!, 'marking_id')) {
        // Markings of no hand-in have no place in the old form; the others get their hand-in's id back.
        await runner.query(
          `DELETE t FROM ${table} t JOIN marking m ON m.id = t.marking_id WHERE m.hand_in_id IS NULL`,
        );
        await runner.query(
          `UPDATE ${table} t JOIN marking m ON m.id = t.marking_id SET t.marking_id = m.hand_in_id WHERE m.id <> m.hand_in_id`,
        );
        await runner.query(
          `ALTER TABLE ${table} CHANGE COLUMN IF EXISTS marking_id hand_in_id ${ID} NOT NULL`,
        );
      }
    }
    await runner.query('DELETE FROM marking WHERE hand_in_id IS NULL');
    if ((await primaryKeyOf(runner, 'marking')) === 'id')
      await runner.query(
        `ALTER TABLE marking DROP PRIMARY KEY, MODIFY hand_in_id ${ID} NOT NULL, ADD PRIMARY KEY (hand_in_id)`,
      );
    await runner.query('ALTER TABLE marking DROP FOREIGN KEY IF EXISTS marking_copy');
    await runner.query(
      `ALTER TABLE marking DROP KEY IF EXISTS marking_hand_in, DROP KEY IF EXISTS marking_once, DROP COLUMN IF EXISTS id, DROP COLUMN IF EXISTS copy_id,
       DROP COLUMN IF EXISTS number`,
    );
    for (const [table, key] of [
      ['mark', 'mark_of'],
      ['marking_change', 'change_of'],
    ])
      await runner.query(
        `ALTER TABLE ${table} ADD FOREIGN KEY IF NOT EXISTS ${key} (hand_in_id) REFERENCES marking (hand_in_id)`,
      );
  }

  async #layerUp(runner: QueryRunner, table: (typeof LAYERS)[number]): Promise<void> {
    await runner.query(`ALTER TABLE ${table} ADD COLUMN IF NOT EXISTS sha256 ${SHA} NULL`);
    if (await hasColumn(runner, table, 'pages')) {
      await eachRow(runner, table, ['document_id'], ['pages'], 'sha256 IS NULL', async (row) => {
        const sha256 = await keepBytes(runner, Buffer.from(row.pages!), false);
        await runner.query(`UPDATE ${table} SET sha256 = ? WHERE document_id = ?`, [sha256, row.document_id]);
      });
      await runner.query(`ALTER TABLE ${table} DROP COLUMN pages`);
    }
    await runner.query(
      `ALTER TABLE ${table} MODIFY sha256 ${SHA} NOT NULL, ADD FOREIGN KEY IF NOT EXISTS ${table}_blob (sha256) REFERENCES blob_file (sha256)`,
    );
  }

  async #layerDown(runner: QueryRunner, table: (typeof LAYERS)[number]): Promise<void> {
    await runner.query(`ALTER TABLE ${table} ADD COLUMN IF NOT EXISTS pages LONGTEXT NULL`);
    if (await hasColumn(runner, table, 'sha256')) {
      await eachRow(runner, table, ['document_id'], ['sha256'], 'pages IS NULL', async (row) => {
        const bytes = await readKept(runner, row.sha256!);
        await runner.query(`UPDATE ${table} SET pages = ? WHERE document_id = ?`, [
          bytes?.toString('utf8') ?? '[]',
          row.document_id,
        ]);
      });
      await runner.query(
        `ALTER TABLE ${table} DROP FOREIGN KEY IF EXISTS ${table}_blob, DROP COLUMN IF EXISTS sha256`,
      );
    }
    await runner.query(`ALTER TABLE ${table} MODIFY pages LONGTEXT NOT NULL`);
  }

  /** Answers of hand-ins as rows, from what was frozen. */
  async #answersUp(runner: QueryRunner): Promise<void> {
    const kinds = new Map<string, Map<string, string>>();
    await eachRow(runner, 'hand_in', ['id'], ['content'], 'content IS NOT NULL', async (row) => {
      const content = readHandInContent(JSON.parse(row.content!));
      if (!content.ok) return;
      for (const { versionId, answers } of content.value.sheets) {
        if (!kinds.has(versionId)) {
          const [version] = await runner.query('SELECT questions FROM worksheet_version WHERE id = ?', [
            versionId,
          ]);
          const read = readQuestions(JSON.parse(version?.questions ?? '[]'));
          kinds.set(versionId, new Map(read.ok ? read.value.map((q) => [q.id, q.answer.kind]) : []));
        }
        for (const [question, value] of Object.entries(answers))
          await runner.query(
            'INSERT IGNORE INTO hand_in_answer (hand_in_id, question_id, version_id, kind, value, digest) VALUES (?, ?, ?, ?, ?, ?)',
            [
              row.id,
              question,
              versionId,
              kinds.get(versionId)!.get(question) ?? 'line',
              value,
              createHash('sha256').update(value).digest('hex'),
            ],
          );
      }
    });
  }
}

async function setValue(
  runner: QueryRunner,
  table: string,
  keys: readonly string[],
  row: Record<string, string | null>,
  column: string,
  value: string,
): Promise<void> {
  await runner.query(`UPDATE ${table} SET ${column} = ? WHERE ${keys.map((k) => `${k} = ?`).join(' AND ')}`, [
    value,
    ...keys.map((k) => row[k]),
  ]);
}

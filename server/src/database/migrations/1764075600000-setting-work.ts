import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, hasColumn, hasTable, ID, MOMENT, SHA, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'worksheet',
    `id ${ID} NOT NULL PRIMARY KEY, owner_id ${ID} NOT NULL, name VARCHAR(200) NOT NULL, created_at ${MOMENT} NOT NULL,
    FOREIGN KEY worksheet_owner (owner_id) REFERENCES person (id)`,
  ],
  [
    'worksheet_version',
    `id ${ID} NOT NULL PRIMARY KEY, worksheet_id ${ID} NOT NULL, number INT NOT NULL, document_id ${ID} NOT NULL, questions LONGTEXT NOT NULL,
    revision INT NOT NULL, created_at ${MOMENT} NOT NULL, UNIQUE KEY worksheet_version_once (worksheet_id, number),
    FOREIGN KEY version_of (worksheet_id) REFERENCES worksheet (id), FOREIGN KEY version_document (document_id) REFERENCES document (id)`,
  ],
  [
    'document_shapes',
    `document_id ${ID} NOT NULL PRIMARY KEY, pages LONGTEXT NOT NULL, FOREIGN KEY shapes_of (document_id) REFERENCES document (id)`,
  ],
  [
    'document_part',
    `document_id ${ID} NOT NULL, position INT NOT NULL, name VARCHAR(255) NOT NULL, type VARCHAR(100) NOT NULL, sha256 ${SHA} NOT NULL,
    PRIMARY KEY (document_id, position), FOREIGN KEY part_of (document_id) REFERENCES document (id), FOREIGN KEY part_blob (sha256) REFERENCES blob_file (sha256)`,
  ],
  [
    'material',
    `id ${ID} NOT NULL PRIMARY KEY, assignment_id ${ID} NOT NULL, position INT NOT NULL, kind VARCHAR(10) NOT NULL, name VARCHAR(300) NOT NULL,
    document_id ${ID} NULL, version_id ${ID} NULL, KEY material_order (assignment_id, position),
    FOREIGN KEY material_assignment (assignment_id) REFERENCES assignment (id), FOREIGN KEY material_document (document_id) REFERENCES document (id),
    FOREIGN KEY material_version (version_id) REFERENCES worksheet_version (id)`,
  ],
  [
    'copy_sheet',
    `copy_id ${ID} NOT NULL, position INT NOT NULL, version_id ${ID} NOT NULL, PRIMARY KEY (copy_id, position),
    FOREIGN KEY sheet_copy (copy_id) REFERENCES copy (id), FOREIGN KEY sheet_version (version_id) REFERENCES worksheet_version (id)`,
  ],
  [
    'copy_file',
    `copy_id ${ID} NOT NULL, document_id ${ID} NOT NULL, position INT NOT NULL, PRIMARY KEY (copy_id, document_id),
    FOREIGN KEY file_copy (copy_id) REFERENCES copy (id), FOREIGN KEY file_document (document_id) REFERENCES document (id)`,
  ],
  [
    'copy_answer',
    `copy_id ${ID} NOT NULL, question_id ${ID} NOT NULL, version ${ID} NOT NULL, seq INT NOT NULL, value LONGTEXT NOT NULL,
    PRIMARY KEY (copy_id, question_id), FOREIGN KEY answer_copy (copy_id) REFERENCES copy (id)`,
  ],
  [
    'copy_mark',
    `copy_id ${ID} NOT NULL, id ${ID} NOT NULL, version ${ID} NOT NULL, seq INT NOT NULL, value LONGTEXT NULL,
    PRIMARY KEY (copy_id, id), FOREIGN KEY copy_mark_of (copy_id) REFERENCES copy (id)`,
  ],
  [
    'copy_trail',
    `copy_id ${ID} NOT NULL, seq INT NOT NULL, change_id ${ID} NOT NULL, at ${MOMENT} NOT NULL, subject ${ID} NOT NULL, value LONGTEXT NOT NULL,
    PRIMARY KEY (copy_id, seq), UNIQUE KEY copy_trail_once (copy_id, change_id), FOREIGN KEY trail_copy (copy_id) REFERENCES copy (id)`,
  ],
  [
    'taken_back',
    `id ${ID} NOT NULL PRIMARY KEY, copy_id ${ID} NOT NULL, number INT NOT NULL, handed_in_at ${MOMENT} NOT NULL, taken_back_at ${MOMENT} NOT NULL,
    content LONGTEXT NULL, documents LONGTEXT NOT NULL, FOREIGN KEY taken_back_copy (copy_id) REFERENCES copy (id)`,
  ],
  [
    'message',
    `id ${ID} NOT NULL PRIMARY KEY, copy_id ${ID} NOT NULL, by_id ${ID} NOT NULL, at ${MOMENT} NOT NULL, words TEXT NOT NULL, cover TINYINT NOT NULL,
    KEY message_order (copy_id, at), FOREIGN KEY message_copy (copy_id) REFERENCES copy (id), FOREIGN KEY message_by (by_id) REFERENCES person (id)`,
  ],
  [
    'message_read',
    `copy_id ${ID} NOT NULL, person_id ${ID} NOT NULL, at ${MOMENT} NOT NULL, PRIMARY KEY (copy_id, person_id),
    FOREIGN KEY read_copy (copy_id) REFERENCES copy (id), FOREIGN KEY read_by (person_id) REFERENCES person (id)`,
  ],
];

const UP: readonly string[] = [
  `ALTER TABLE assignment ADD COLUMN IF NOT EXISTS category VARCHAR(60) NOT NULL DEFAULT '', ADD COLUMN IF NOT EXISTS unit VARCHAR(200) NOT NULL DEFAULT '',
   ADD COLUMN IF NOT EXISTS opens_at ${MOMENT} NULL, ADD COLUMN IF NOT EXISTS for_all TINYINT NOT NULL DEFAULT 1,
   ADD COLUMN IF NOT EXISTS hands_in TINYINT NOT NULL DEFAULT 1, ADD COLUMN IF NOT EXISTS put_away_at ${MOMENT} NULL,
   ADD COLUMN IF NOT EXISTS family_token VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD COLUMN IF NOT EXISTS news VARCHAR(1000) NULL,
   ADD COLUMN IF NOT EXISTS news_at ${MOMENT} NULL, ADD COLUMN IF NOT EXISTS audience LONGTEXT NULL,
   ADD COLUMN IF NOT EXISTS revision INT NOT NULL DEFAULT 1, ADD UNIQUE KEY IF NOT EXISTS assignment_family (family_token)`,
  `UPDATE assignment a JOIN school_class k ON k.id = a.class_id SET a.opens_at = a.created_at, a.unit = k.unit`,
  // Plain words become rich text of one paragraph.
  `UPDATE assignment SET instructions = IF(instructions = '', '{"type":"doc","content":[]}',
     JSON_OBJECT('type', 'doc', 'content', JSON_ARRAY(JSON_OBJECT('type', 'paragraph', 'content', JSON_ARRAY(JSON_OBJECT('type', 'text', 'text', instructions))))))
   WHERE NOT JSON_VALID(instructions) OR COALESCE(JSON_VALUE(instructions, '$.type'), '') <> 'doc'`,
  `ALTER TABLE membership ADD COLUMN IF NOT EXISTS left_at ${MOMENT} NULL`,
  `ALTER TABLE copy ADD COLUMN IF NOT EXISTS excused TINYINT NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS seen_at ${MOMENT} NULL`,
];

const READY = [
  `INSERT IGNORE INTO copy_file (copy_id, document_id, position) SELECT id, ready_document_id, 0 FROM copy WHERE ready_document_id IS NOT NULL`,
  `ALTER TABLE copy DROP COLUMN ready_document_id`,
];

const UP_LAST = [
  `ALTER TABLE document MODIFY copy_id ${ID} NULL, MODIFY sha256 ${SHA} NULL, MODIFY original_sha256 ${SHA} NULL, ADD COLUMN IF NOT EXISTS owner_id ${ID} NULL,
   ADD COLUMN IF NOT EXISTS type VARCHAR(100) NOT NULL DEFAULT 'application/pdf', ADD COLUMN IF NOT EXISTS shows VARCHAR(10) NOT NULL DEFAULT 'pages',
   ADD COLUMN IF NOT EXISTS trouble VARCHAR(30) NULL, ADD COLUMN IF NOT EXISTS url VARCHAR(2000) NULL, ADD COLUMN IF NOT EXISTS filled_from ${ID} NULL,
   ADD COLUMN IF NOT EXISTS version_id ${ID} NULL`,
  `ALTER TABLE hand_in ADD COLUMN IF NOT EXISTS claimed_at ${MOMENT} NULL, ADD COLUMN IF NOT EXISTS content LONGTEXT NULL`,
];

/** What the old form cannot hold: documents without pages or without a copy. */
const LOST = 'd.sha256 IS NULL OR d.copy_id IS NULL';

/** A filled-in worksheet has no original: its pages become it. */
const ORIGINALS = `UPDATE document SET original_sha256 = sha256 WHERE original_sha256 IS NULL AND sha256 IS NOT NULL`;

/** As long as the tables of this migration are still there. */
const READY_AGAIN = `UPDATE copy c SET c.ready_document_id = (SELECT f.document_id FROM copy_file f JOIN document d ON d.id = f.document_id
     WHERE f.copy_id = c.id AND d.sha256 IS NOT NULL ORDER BY f.position LIMIT 1)`;

const DOWN_LAST: readonly string[] = [
  'ALTER TABLE hand_in DROP COLUMN IF EXISTS claimed_at, DROP COLUMN IF EXISTS content',
  'ALTER TABLE copy DROP COLUMN IF EXISTS excused, DROP COLUMN IF EXISTS seen_at',
  'ALTER TABLE membership DROP COLUMN IF EXISTS left_at',
  `UPDATE assignment SET instructions = COALESCE(JSON_VALUE(instructions, '$.content[0].content[0].text'), '') WHERE JSON_VALID(instructions)`,
  `ALTER TABLE assignment DROP KEY IF EXISTS assignment_family, DROP COLUMN IF EXISTS category, DROP COLUMN IF EXISTS unit, DROP COLUMN IF EXISTS opens_at,
   DROP COLUMN IF EXISTS for_all, DROP COLUMN IF EXISTS hands_in, DROP COLUMN IF EXISTS put_away_at, DROP COLUMN IF EXISTS family_token,
   DROP COLUMN IF EXISTS news, DROP COLUMN IF EXISTS news_at, DROP COLUMN IF EXISTS audience, DROP COLUMN IF EXISTS revision`,
];

/** Setting work: worksheets with questions, materials, answers, several files a copy, taking back, the conversation. */
export class SettingWork1764075600000 implements MigrationInterface {
  readonly name = 'SettingWork1764075600000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
    for (const sql of UP) await runner.query(sql);
    if (await hasColumn(runner, 'copy', 'ready_document_id'))
      for (const sql of READY) await runner.query(sql);
    for (const sql of UP_LAST) await runner.query(sql);
  }

  /** What the old form cannot hold goes: documents without pages or without a copy, and copies' further files. */
  async down(runner: QueryRunner): Promise<void> {
    await runner.query(ORIGINALS);
    await runner.query(`ALTER TABLE copy ADD COLUMN IF NOT EXISTS ready_document_id ${ID} NULL`);
    if (await hasTable(runner, 'copy_file')) await runner.query(READY_AGAIN);
    for (const table of ['hand_in_document', 'document_text', 'page_turns'])
      await runner.query(`DELETE t FROM ${table} t JOIN document d ON d.id = t.document_id WHERE ${LOST}`);
    await dropTables(runner, CREATE);
    await runner.query(`DELETE d FROM document d WHERE ${LOST}`);
    await runner.query(
      `ALTER TABLE document MODIFY copy_id ${ID} NOT NULL, MODIFY sha256 ${SHA} NOT NULL, MODIFY original_sha256 ${SHA} NOT NULL,
       DROP COLUMN IF EXISTS owner_id, DROP COLUMN IF EXISTS type, DROP COLUMN IF EXISTS shows, DROP COLUMN IF EXISTS trouble, DROP COLUMN IF EXISTS url,
       DROP COLUMN IF EXISTS filled_from, DROP COLUMN IF EXISTS version_id`,
    );
    for (const sql of DOWN_LAST) await runner.query(sql);
  }
}

import type { MigrationInterface, QueryRunner } from 'typeorm';
import { createTables, dropTables, ID, MOMENT, SHA, type Tables } from './again.ts';

const CREATE: Tables = [
  [
    'person',
    `id ${ID} NOT NULL PRIMARY KEY, role VARCHAR(10) NOT NULL, login VARCHAR(100) NOT NULL, given VARCHAR(100) NOT NULL,
    family VARCHAR(100) NOT NULL, password_hash VARCHAR(200) NOT NULL, created_at ${MOMENT} NOT NULL, UNIQUE KEY person_login (login)`,
  ],
  [
    'session',
    `token_hash ${SHA} NOT NULL PRIMARY KEY, person_id ${ID} NOT NULL, token VARCHAR(64) NOT NULL, expires_at ${MOMENT} NOT NULL,
    KEY session_expires (expires_at), FOREIGN KEY session_person (person_id) REFERENCES person (id) ON DELETE CASCADE`,
  ],
  ['attempt', `name VARCHAR(190) NOT NULL PRIMARY KEY, hits INT NOT NULL, reset_at ${MOMENT} NOT NULL`],
  [
    'school_class',
    `id ${ID} NOT NULL PRIMARY KEY, name VARCHAR(60) NOT NULL, unit VARCHAR(200) NOT NULL, created_at ${MOMENT} NOT NULL`,
  ],
  [
    'membership',
    `class_id ${ID} NOT NULL, person_id ${ID} NOT NULL, role VARCHAR(10) NOT NULL, PRIMARY KEY (class_id, person_id),
    FOREIGN KEY membership_class (class_id) REFERENCES school_class (id), FOREIGN KEY membership_person (person_id) REFERENCES person (id)`,
  ],
  [
    'assignment',
    `id ${ID} NOT NULL PRIMARY KEY, class_id ${ID} NOT NULL, title VARCHAR(200) NOT NULL, instructions LONGTEXT NOT NULL,
    due_at ${MOMENT} NULL, most INT NULL, created_at ${MOMENT} NOT NULL, FOREIGN KEY assignment_class (class_id) REFERENCES school_class (id)`,
  ],
  ['blob_file', `sha256 ${SHA} NOT NULL PRIMARY KEY, bytes INT NOT NULL, created_at ${MOMENT} NOT NULL`],
  [
    'blob_chunk',
    `sha256 ${SHA} NOT NULL, n INT NOT NULL, bytes MEDIUMBLOB NOT NULL, PRIMARY KEY (sha256, n),
    FOREIGN KEY blob_chunk_of (sha256) REFERENCES blob_file (sha256)`,
  ],
  [
    'copy',
    `id ${ID} NOT NULL PRIMARY KEY, assignment_id ${ID} NOT NULL, student_id ${ID} NOT NULL, due_at ${MOMENT} NULL,
    ready_document_id ${ID} NULL, UNIQUE KEY copy_once (assignment_id, student_id),
    FOREIGN KEY copy_assignment (assignment_id) REFERENCES assignment (id), FOREIGN KEY copy_student (student_id) REFERENCES person (id)`,
  ],
  [
    'document',
    `id ${ID} NOT NULL PRIMARY KEY, copy_id ${ID} NOT NULL, name VARCHAR(255) NOT NULL, original_sha256 ${SHA} NOT NULL,
    sha256 ${SHA} NOT NULL, pages INT NOT NULL, frames LONGTEXT NULL, created_at ${MOMENT} NOT NULL,
    FOREIGN KEY document_copy (copy_id) REFERENCES copy (id), FOREIGN KEY document_blob (sha256) REFERENCES blob_file (sha256),
    FOREIGN KEY document_original (original_sha256) REFERENCES blob_file (sha256)`,
  ],
  [
    'document_text',
    `document_id ${ID} NOT NULL PRIMARY KEY, pages LONGTEXT NOT NULL, FOREIGN KEY text_of (document_id) REFERENCES document (id)`,
  ],
  [
    'page_turns',
    `document_id ${ID} NOT NULL PRIMARY KEY, turns LONGTEXT NOT NULL, FOREIGN KEY turns_of (document_id) REFERENCES document (id)`,
  ],
  [
    'hand_in',
    `id ${ID} NOT NULL PRIMARY KEY, copy_id ${ID} NOT NULL, number INT NOT NULL, handed_in_at ${MOMENT} NOT NULL, late_ms BIGINT NOT NULL,
    UNIQUE KEY hand_in_number (copy_id, number), FOREIGN KEY hand_in_copy (copy_id) REFERENCES copy (id)`,
  ],
  [
    'hand_in_document',
    `hand_in_id ${ID} NOT NULL, position INT NOT NULL, document_id ${ID} NOT NULL, PRIMARY KEY (hand_in_id, position),
    FOREIGN KEY hid_hand_in (hand_in_id) REFERENCES hand_in (id), FOREIGN KEY hid_document (document_id) REFERENCES document (id)`,
  ],
  [
    'marking',
    `hand_in_id ${ID} NOT NULL PRIMARY KEY, marker_id ${ID} NOT NULL, begun_at ${MOMENT} NOT NULL, done_at ${MOMENT} NULL,
    grade INT NULL, grade_version ${ID} NULL, closing LONGTEXT NOT NULL, closing_version ${ID} NULL, done TINYINT NOT NULL, done_version ${ID} NULL,
    FOREIGN KEY marking_of (hand_in_id) REFERENCES hand_in (id), FOREIGN KEY marking_by (marker_id) REFERENCES person (id)`,
  ],
  [
    'mark',
    `hand_in_id ${ID} NOT NULL, id ${ID} NOT NULL, version ${ID} NOT NULL, value LONGTEXT NULL, PRIMARY KEY (hand_in_id, id),
    FOREIGN KEY mark_of (hand_in_id) REFERENCES marking (hand_in_id)`,
  ],
  [
    'marking_change',
    `hand_in_id ${ID} NOT NULL, seq INT NOT NULL, change_id ${ID} NOT NULL, by_id ${ID} NOT NULL, at ${MOMENT} NOT NULL, value LONGTEXT NOT NULL,
    PRIMARY KEY (hand_in_id, seq), UNIQUE KEY change_once (hand_in_id, change_id), FOREIGN KEY change_of (hand_in_id) REFERENCES marking (hand_in_id)`,
  ],
  [
    'hand_back',
    `id ${ID} NOT NULL PRIMARY KEY, copy_id ${ID} NOT NULL, hand_in_id ${ID} NOT NULL, handed_back_at ${MOMENT} NOT NULL, by_id ${ID} NOT NULL,
    content LONGTEXT NOT NULL, UNIQUE KEY hand_back_once (hand_in_id), FOREIGN KEY hand_back_copy (copy_id) REFERENCES copy (id),
    FOREIGN KEY hand_back_of (hand_in_id) REFERENCES hand_in (id)`,
  ],
  [
    'hand_back_pdf',
    `hand_back_id ${ID} NOT NULL PRIMARY KEY, sha256 ${SHA} NOT NULL, name VARCHAR(255) NOT NULL,
    FOREIGN KEY pdf_of (hand_back_id) REFERENCES hand_back (id), FOREIGN KEY pdf_blob (sha256) REFERENCES blob_file (sha256)`,
  ],
  [
    'job',
    `id ${ID} NOT NULL PRIMARY KEY, kind VARCHAR(40) NOT NULL, subject ${ID} NOT NULL, state VARCHAR(10) NOT NULL, done INT NOT NULL, total INT NOT NULL,
    attempts INT NOT NULL, error VARCHAR(60) NULL, claimed_by VARCHAR(60) NULL, claimed_until ${MOMENT} NULL, created_at ${MOMENT} NOT NULL,
    UNIQUE KEY job_once (kind, subject), KEY job_waiting (state, created_at)`,
  ],
];

/** All that the thinnest slice needs: people, classes, files, hand-ins, marking, hand-backs, jobs. */
export class FirstSlice1764028800000 implements MigrationInterface {
  readonly name = 'FirstSlice1764028800000';

  async up(runner: QueryRunner): Promise<void> {
    await createTables(runner, CREATE);
  }

  async down(runner: QueryRunner): Promise<void> {
    await dropTables(runner, CREATE);
  }
}

import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';

/**
 * The tables as TypeORM sees them. Their history is in `migrations/`; a test compares the two.
 * Ids are UUIDv7 in ASCII, moments are DATETIME(3) in UTC, values of core are JSON text checked by core's schemas.
 */
const id: EntitySchemaColumnOptions = { type: 'char', length: 36, charset: 'ascii', collation: 'ascii_bin' };
const sha: EntitySchemaColumnOptions = { ...id, length: 64 };
const moment: EntitySchemaColumnOptions = { type: 'datetime', precision: 3 };
const text = (length: number): EntitySchemaColumnOptions => ({ type: 'varchar', length });
const long: EntitySchemaColumnOptions = { type: 'longtext' };
const int: EntitySchemaColumnOptions = { type: 'int' };
const flag: EntitySchemaColumnOptions = { type: 'boolean' };
const key = (c: EntitySchemaColumnOptions): EntitySchemaColumnOptions => ({ ...c, primary: true });
const maybe = (c: EntitySchemaColumnOptions): EntitySchemaColumnOptions => ({ ...c, nullable: true });

function table<T>(name: string, columns: { [K in keyof T]-?: EntitySchemaColumnOptions }): EntitySchema<T> {
  // biome-ignore lint/suspicious/noExplicitAny: TypeORM's own column map is wider than ours
  return new EntitySchema<T>({ name, tableName: name, columns: columns as any });
}

export interface PersonRow {
  id: string;
  role: string;
  login: string;
  given: string;
  family: string;
  password_hash: string;
  created_at: Date;
}
export const PersonTable = table<PersonRow>('person', {
  id: key(id),
  role: text(10),
  login: text(100),
  given: text(100),
  family: text(100),
  password_hash: text(200),
  created_at: moment,
});

export interface SessionRow {
  token_hash: string;
  person_id: string;
  token: string;
  expires_at: Date;
}
export const SessionTable = table<SessionRow>('session', {
  token_hash: key(sha),
  person_id: id,
  token: text(64),
  expires_at: moment,
});

export interface AttemptRow {
  name: string;
  hits: number;
  reset_at: Date;
}
export const AttemptTable = table<AttemptRow>('attempt', {
  name: key(text(190)),
  hits: int,
  reset_at: moment,
});

export interface ClassRow {
  id: string;
  name: string;
  unit: string;
  created_at: Date;
}
export const ClassTable = table<ClassRow>('school_class', {
  id: key(id),
  name: text(60),
  unit: text(200),
  created_at: moment,
});

export interface MembershipRow {
  class_id: string;
  person_id: string;
  role: string;
  left_at: Date | null;
}
export const MembershipTable = table<MembershipRow>('membership', {
  class_id: key(id),
  person_id: key(id),
  role: text(10),
  left_at: maybe(moment),
});

export interface AssignmentRow {
  id: string;
  class_id: string;
  title: string;
  instructions: string;
  due_at: Date | null;
  most: number | null;
  created_at: Date;
  category: string;
  unit: string;
  opens_at: Date | null;
  for_all: boolean;
  hands_in: boolean;
  put_away_at: Date | null;
  family_token: string | null;
  news: string | null;
  news_at: Date | null;
  audience: string | null;
  revision: number;
  blind: boolean;
}
export const AssignmentTable = table<AssignmentRow>('assignment', {
  id: key(id),
  class_id: id,
  title: text(200),
  instructions: long,
  due_at: maybe(moment),
  most: maybe(int),
  created_at: moment,
  category: text(60),
  unit: text(200),
  opens_at: maybe(moment),
  for_all: flag,
  hands_in: flag,
  put_away_at: maybe(moment),
  family_token: maybe({ ...text(64), charset: 'ascii', collation: 'ascii_bin' }),
  news: maybe(text(1000)),
  news_at: maybe(moment),
  audience: maybe(long),
  revision: int,
  blind: flag,
});

export interface CopyRow {
  id: string;
  assignment_id: string;
  student_id: string;
  due_at: Date | null;
  excused: boolean;
  seen_at: Date | null;
  here_at: Date | null;
  worked_at: Date | null;
  at_question: string | null;
}
export const CopyTable = table<CopyRow>('copy', {
  id: key(id),
  assignment_id: id,
  student_id: id,
  due_at: maybe(moment),
  excused: flag,
  seen_at: maybe(moment),
  here_at: maybe(moment),
  worked_at: maybe(moment),
  at_question: maybe(id),
});

export interface BlobRow {
  sha256: string;
  bytes: number;
  created_at: Date;
}
export const BlobTable = table<BlobRow>('blob_file', { sha256: key(sha), bytes: int, created_at: moment });

export interface BlobChunkRow {
  sha256: string;
  n: number;
  bytes: Buffer;
}
export const BlobChunkTable = table<BlobChunkRow>('blob_chunk', {
  sha256: key(sha),
  n: key(int),
  bytes: { type: 'mediumblob' },
});

export interface DocumentRow {
  id: string;
  copy_id: string | null;
  name: string;
  original_sha256: string | null;
  sha256: string | null;
  pages: number;
  frames: string | null;
  created_at: Date;
  owner_id: string | null;
  type: string;
  shows: string;
  trouble: string | null;
  url: string | null;
  filled_from: string | null;
  version_id: string | null;
  picture_sha256: string | null;
}
export const DocumentTable = table<DocumentRow>('document', {
  id: key(id),
  copy_id: maybe(id),
  name: text(255),
  original_sha256: maybe(sha),
  sha256: maybe(sha),
  pages: int,
  frames: maybe(long),
  created_at: moment,
  owner_id: maybe(id),
  type: text(100),
  shows: text(10),
  trouble: maybe(text(30)),
  url: maybe(text(2000)),
  filled_from: maybe(id),
  version_id: maybe(id),
  picture_sha256: maybe(sha),
});

export interface DocumentTextRow {
  document_id: string;
  pages: string;
}
export const DocumentTextTable = table<DocumentTextRow>('document_text', {
  document_id: key(id),
  pages: long,
});

export interface PageTurnsRow {
  document_id: string;
  turns: string;
}
export const PageTurnsTable = table<PageTurnsRow>('page_turns', { document_id: key(id), turns: long });

export interface HandInRow {
  id: string;
  copy_id: string;
  number: number;
  handed_in_at: Date;
  late_ms: string | number;
  claimed_at: Date | null;
  content: string | null;
}
export const HandInTable = table<HandInRow>('hand_in', {
  id: key(id),
  copy_id: id,
  number: int,
  handed_in_at: moment,
  late_ms: { type: 'bigint' },
  claimed_at: maybe(moment),
  content: maybe(long),
});

export interface HandInDocumentRow {
  hand_in_id: string;
  position: number;
  document_id: string;
}
export const HandInDocumentTable = table<HandInDocumentRow>('hand_in_document', {
  hand_in_id: key(id),
  position: key(int),
  document_id: id,
});

export interface MarkingRow {
  hand_in_id: string;
  marker_id: string;
  begun_at: Date;
  done_at: Date | null;
  grade: number | null;
  grade_version: string | null;
  closing: string;
  closing_version: string | null;
  done: boolean;
  done_version: string | null;
  left_at: number;
}
export const MarkingTable = table<MarkingRow>('marking', {
  hand_in_id: key(id),
  marker_id: id,
  begun_at: moment,
  done_at: maybe(moment),
  grade: maybe(int),
  grade_version: maybe(id),
  closing: long,
  closing_version: maybe(id),
  done: flag,
  done_version: maybe(id),
  left_at: { type: 'smallint', unsigned: true, default: 0 },
});

export interface MarkRow {
  hand_in_id: string;
  id: string;
  version: string;
  value: string | null;
}
export const MarkTable = table<MarkRow>('mark', {
  hand_in_id: key(id),
  id: key(id),
  version: id,
  value: maybe(long),
});

export interface MarkingChangeRow {
  hand_in_id: string;
  seq: number;
  change_id: string;
  by_id: string;
  at: Date;
  value: string;
}
export const MarkingChangeTable = table<MarkingChangeRow>('marking_change', {
  hand_in_id: key(id),
  seq: key(int),
  change_id: id,
  by_id: id,
  at: moment,
  value: long,
});

export interface HandBackRow {
  id: string;
  copy_id: string;
  hand_in_id: string;
  handed_back_at: Date;
  by_id: string;
  content: string;
}
export const HandBackTable = table<HandBackRow>('hand_back', {
  id: key(id),
  copy_id: id,
  hand_in_id: id,
  handed_back_at: moment,
  by_id: id,
  content: long,
});

export interface HandBackPdfRow {
  hand_back_id: string;
  sha256: string;
  name: string;
}
export const HandBackPdfTable = table<HandBackPdfRow>('hand_back_pdf', {
  hand_back_id: key(id),
  sha256: sha,
  name: text(255),
});

export interface JobRow {
  id: string;
  kind: string;
  subject: string;
  state: string;
  done: number;
  total: number;
  attempts: number;
  error: string | null;
  claimed_by: string | null;
  claimed_until: Date | null;
  created_at: Date;
}
export const JobTable = table<JobRow>('job', {
  id: key(id),
  kind: text(40),
  subject: id,
  state: text(10),
  done: int,
  total: int,
  attempts: int,
  error: maybe(text(60)),
  claimed_by: maybe(text(60)),
  claimed_until: maybe(moment),
  created_at: moment,
});

export interface WorksheetRow {
  id: string;
  owner_id: string;
  name: string;
  created_at: Date;
}
export const WorksheetTable = table<WorksheetRow>('worksheet', {
  id: key(id),
  owner_id: id,
  name: text(200),
  created_at: moment,
});

export interface WorksheetVersionRow {
  id: string;
  worksheet_id: string;
  number: number;
  document_id: string;
  questions: string;
  revision: number;
  created_at: Date;
}
export const WorksheetVersionTable = table<WorksheetVersionRow>('worksheet_version', {
  id: key(id),
  worksheet_id: id,
  number: int,
  document_id: id,
  questions: long,
  revision: int,
  created_at: moment,
});

export interface DocumentShapesRow {
  document_id: string;
  pages: string;
}
export const DocumentShapesTable = table<DocumentShapesRow>('document_shapes', {
  document_id: key(id),
  pages: long,
});

export interface DocumentPartRow {
  document_id: string;
  position: number;
  name: string;
  type: string;
  sha256: string;
}
export const DocumentPartTable = table<DocumentPartRow>('document_part', {
  document_id: key(id),
  position: key(int),
  name: text(255),
  type: text(100),
  sha256: sha,
});

export interface MaterialRow {
  id: string;
  assignment_id: string;
  position: number;
  kind: string;
  name: string;
  document_id: string | null;
  version_id: string | null;
}
export const MaterialTable = table<MaterialRow>('material', {
  id: key(id),
  assignment_id: id,
  position: int,
  kind: text(10),
  name: text(300),
  document_id: maybe(id),
  version_id: maybe(id),
});

export interface CopySheetRow {
  copy_id: string;
  position: number;
  version_id: string;
}
export const CopySheetTable = table<CopySheetRow>('copy_sheet', {
  copy_id: key(id),
  position: key(int),
  version_id: id,
});

export interface CopyFileRow {
  copy_id: string;
  document_id: string;
  position: number;
}
export const CopyFileTable = table<CopyFileRow>('copy_file', {
  copy_id: key(id),
  document_id: key(id),
  position: int,
});

export interface CopyAnswerRow {
  copy_id: string;
  question_id: string;
  version: string;
  seq: number;
  value: string;
}
export const CopyAnswerTable = table<CopyAnswerRow>('copy_answer', {
  copy_id: key(id),
  question_id: key(id),
  version: id,
  seq: int,
  value: long,
});

export interface CopyMarkRow {
  copy_id: string;
  id: string;
  version: string;
  seq: number;
  value: string | null;
  gone: boolean;
}
export const CopyMarkTable = table<CopyMarkRow>('copy_mark', {
  copy_id: key(id),
  id: key(id),
  version: id,
  seq: int,
  value: maybe(long),
  gone: flag,
});

export interface CopyTrailRow {
  copy_id: string;
  seq: number;
  change_id: string;
  at: Date;
  subject: string;
  value: string;
}
export const CopyTrailTable = table<CopyTrailRow>('copy_trail', {
  copy_id: key(id),
  seq: key(int),
  change_id: id,
  at: moment,
  subject: id,
  value: long,
});

export interface TakenBackRow {
  id: string;
  copy_id: string;
  number: number;
  handed_in_at: Date;
  taken_back_at: Date;
  content: string | null;
  documents: string;
}
export const TakenBackTable = table<TakenBackRow>('taken_back', {
  id: key(id),
  copy_id: id,
  number: int,
  handed_in_at: moment,
  taken_back_at: moment,
  content: maybe(long),
  documents: long,
});

export interface MessageRow {
  id: string;
  copy_id: string;
  by_id: string;
  at: Date;
  words: string;
  cover: boolean;
  place: string | null;
}
export const MessageTable = table<MessageRow>('message', {
  id: key(id),
  copy_id: id,
  by_id: id,
  at: moment,
  words: { type: 'text' },
  cover: flag,
  place: maybe(long),
});

export interface MessageReadRow {
  copy_id: string;
  person_id: string;
  at: Date;
}
export const MessageReadTable = table<MessageReadRow>('message_read', {
  copy_id: key(id),
  person_id: key(id),
  at: moment,
});

export interface EventRow {
  seq: string | number;
  assignment_id: string;
  copy_id: string;
  kind: string;
  at: Date;
}
export const EventTable = table<EventRow>('event', {
  seq: key({ type: 'bigint' }),
  assignment_id: id,
  copy_id: id,
  kind: text(10),
  at: moment,
});

export interface ZipOrderRow {
  id: string;
  assignment_id: string;
  by_id: string;
  copy_ids: string;
  sha256: string | null;
  name: string;
  created_at: Date;
}
export const ZipOrderTable = table<ZipOrderRow>('zip_order', {
  id: key(id),
  assignment_id: id,
  by_id: id,
  copy_ids: long,
  sha256: maybe(sha),
  name: text(255),
  created_at: moment,
});

export interface PenTraysRow {
  person_id: string;
  content: string;
  at: Date;
}
export const PenTraysTable = table<PenTraysRow>('pen_trays', {
  person_id: key(id),
  content: long,
  at: moment,
});

export const TABLES = [
  PersonTable,
  SessionTable,
  AttemptTable,
  ClassTable,
  MembershipTable,
  AssignmentTable,
  CopyTable,
  BlobTable,
  BlobChunkTable,
  DocumentTable,
  DocumentTextTable,
  PageTurnsTable,
  HandInTable,
  HandInDocumentTable,
  MarkingTable,
  MarkTable,
  MarkingChangeTable,
  HandBackTable,
  HandBackPdfTable,
  JobTable,
  WorksheetTable,
  WorksheetVersionTable,
  DocumentShapesTable,
  DocumentPartTable,
  MaterialTable,
  CopySheetTable,
  CopyFileTable,
  CopyAnswerTable,
  CopyMarkTable,
  CopyTrailTable,
  TakenBackTable,
  MessageTable,
  MessageReadTable,
  EventTable,
  ZipOrderTable,
  PenTraysTable,
];

import type { ClassId, PersonId } from '@jotmark/core';
import type { Table } from '../database/columns.ts';
import {
  AssignmentTable,
  ClassTable,
  CopyAnswerTable,
  CopyFileTable,
  CopyMarkTable,
  CopyMemberTable,
  CopySheetTable,
  CopyTable,
  CopyTextTable,
  CopyTextUpdateTable,
  CopyTrailTable,
  DocumentPartTable,
  DocumentShapesTable,
  DocumentTable,
  DocumentTextTable,
  EveningTable,
  HandBackTable,
  HandInAnswerTable,
  HandInDocumentTable,
  HandInTable,
  HeardTable,
  HelpFileTable,
  MarkingChangeTable,
  MarkingRoundTable,
  MarkingTable,
  MarkTable,
  MaterialTable,
  MembershipTable,
  MessageReadTable,
  MessageTable,
  OpenedTable,
  PageTurnsTable,
  PersonTable,
  RecalledTable,
  RemarkAnswerTable,
  RemarkStudentTable,
  RemarkTable,
  ReportTable,
  RubricTable,
  RubricVersionTable,
  ScoreTable,
  TakenBackTable,
  VoiceHandedBackTable,
  VoiceOnCopyTable,
  VoiceTable,
  WorksheetTable,
  WorksheetVersionTable,
} from '../database/entities/index.ts';
import type { Db } from '../database/pick.ts';

/**
 * A class's whole record: which rows of which tables belong to it, parents before what hangs on them. Accounts come with their names and logins, never with what
 * proves a password; sessions, letters, news, jobs, comment banks, pens and addresses that open something stay behind: they are people's own, or are made anew.
 */
const A = '(SELECT id FROM assignment WHERE class_id = :classId)';
const C = `(SELECT id FROM copy WHERE assignment_id IN ${A})`;
const H = `(SELECT id FROM hand_in WHERE copy_id IN ${C})`;
const B = `(SELECT id FROM hand_back WHERE copy_id IN ${C})`;
const M = `(SELECT id FROM marking WHERE copy_id IN ${C})`;
const R = '(SELECT id FROM remark WHERE class_id = :classId)';
const V = `(SELECT version_id FROM material WHERE assignment_id IN ${A} AND version_id IS NOT NULL
  UNION SELECT version_id FROM copy_sheet WHERE copy_id IN ${C}
  UNION SELECT version_id FROM hand_in_answer WHERE hand_in_id IN ${H}
  UNION SELECT version_id FROM document WHERE copy_id IN ${C} AND version_id IS NOT NULL)`;
const W = `(SELECT worksheet_id FROM worksheet_version WHERE id IN ${V})`;
const D = `(SELECT id FROM document WHERE copy_id IN ${C}
  UNION SELECT document_id FROM material WHERE assignment_id IN ${A} AND document_id IS NOT NULL
  UNION SELECT document_id FROM worksheet_version WHERE worksheet_id IN ${W}
  UNION SELECT document_id FROM copy_file WHERE copy_id IN ${C}
  UNION SELECT document_id FROM hand_in_document WHERE hand_in_id IN ${H}
  UNION SELECT document_id FROM help_file WHERE copy_id IN ${C})`;
const RUBRICS = `(SELECT rubric_id FROM rubric_version WHERE id IN (SELECT rubric_version_id FROM assignment WHERE class_id = :classId AND rubric_version_id IS NOT NULL))`;
const VOICES = `(SELECT sha256 FROM voice_on_copy WHERE copy_id IN ${C} UNION SELECT sha256 FROM voice_handed_back WHERE hand_back_id IN ${B})`;
const P = `(SELECT person_id FROM membership WHERE class_id = :classId
  UNION SELECT person_id FROM copy_member WHERE copy_id IN ${C}
  UNION SELECT marker_id FROM marking WHERE copy_id IN ${C}
  UNION SELECT by_id FROM marking_change WHERE marking_id IN ${M}
  UNION SELECT by_id FROM hand_back WHERE copy_id IN ${C}
  UNION SELECT by_id FROM message WHERE copy_id IN ${C}
  UNION SELECT by_id FROM remark WHERE class_id = :classId
  UNION SELECT by_id FROM remark_answer WHERE remark_id IN ${R}
  UNION SELECT by_id FROM evening WHERE assignment_id IN ${A}
  UNION SELECT recalled_by_id FROM recalled_hand_back WHERE copy_id IN ${C}
  UNION SELECT owner_id FROM worksheet WHERE id IN ${W}
  UNION SELECT owner_id FROM rubric WHERE id IN ${RUBRICS}
  UNION SELECT owner_id FROM document WHERE id IN ${D} AND owner_id IS NOT NULL
  UNION SELECT owner_id FROM voice WHERE sha256 IN ${VOICES})`;

/** A table of the record, and which of its rows. */
export interface RecordPart {
  readonly table: Table<object>;
  readonly where: string;
}
const part = <T extends object>(table: Table<T>, where: string): RecordPart => ({
  table: table as unknown as Table<object>,
  where,
});

export const RECORD: readonly RecordPart[] = [
  part(PersonTable, `t.id IN ${P}`),
  part(ClassTable, 't.id = :classId'),
  part(MembershipTable, 't.class_id = :classId'),
  part(RubricTable, `t.id IN ${RUBRICS}`),
  part(RubricVersionTable, `t.rubric_id IN ${RUBRICS}`),
  part(AssignmentTable, 't.class_id = :classId'),
  part(CopyTable, `t.assignment_id IN ${A}`),
  part(CopyMemberTable, `t.copy_id IN ${C}`),
  part(WorksheetTable, `t.id IN ${W}`),
  part(DocumentTable, `t.id IN ${D}`),
  part(DocumentPartTable, `t.document_id IN ${D}`),
  part(DocumentTextTable, `t.document_id IN ${D}`),
  part(DocumentShapesTable, `t.document_id IN ${D}`),
  part(PageTurnsTable, `t.document_id IN ${D}`),
  part(WorksheetVersionTable, `t.worksheet_id IN ${W}`),
  part(MaterialTable, `t.assignment_id IN ${A}`),
  part(CopySheetTable, `t.copy_id IN ${C}`),
  part(CopyFileTable, `t.copy_id IN ${C}`),
  part(CopyAnswerTable, `t.copy_id IN ${C}`),
  part(CopyTextTable, `t.copy_id IN ${C}`),
  part(CopyTextUpdateTable, `t.copy_id IN ${C}`),
  part(CopyMarkTable, `t.copy_id IN ${C}`),
  part(CopyTrailTable, `t.copy_id IN ${C}`),
  part(HandInTable, `t.copy_id IN ${C}`),
  part(HandInDocumentTable, `t.hand_in_id IN ${H}`),
  part(HandInAnswerTable, `t.hand_in_id IN ${H}`),
  part(TakenBackTable, `t.copy_id IN ${C}`),
  part(MarkingTable, `t.copy_id IN ${C}`),
  part(MarkingRoundTable, `t.marking_id IN ${M}`),
  part(MarkTable, `t.marking_id IN ${M}`),
  part(ScoreTable, `t.marking_id IN ${M}`),
  part(MarkingChangeTable, `t.marking_id IN ${M}`),
  part(EveningTable, `t.assignment_id IN ${A}`),
  part(HandBackTable, `t.copy_id IN ${C}`),
  part(RecalledTable, `t.copy_id IN ${C}`),
  part(OpenedTable, `t.hand_back_id IN ${B}`),
  part(MessageTable, `t.copy_id IN ${C}`),
  part(MessageReadTable, `t.copy_id IN ${C}`),
  part(HelpFileTable, `t.copy_id IN ${C}`),
  part(VoiceTable, `t.sha256 IN ${VOICES}`),
  part(VoiceOnCopyTable, `t.copy_id IN ${C}`),
  part(VoiceHandedBackTable, `t.hand_back_id IN ${B}`),
  part(HeardTable, `t.hand_back_id IN ${B}`),
  part(RemarkTable, 't.class_id = :classId'),
  part(RemarkStudentTable, `t.remark_id IN ${R}`),
  part(RemarkAnswerTable, `t.remark_id IN ${R}`),
  part(ReportTable, 't.class_id = :classId'),
];

/** Of the record what is about one student alone, for who gives it out: their own copies, what they got, said and were told; nothing of a marking that is still held. */
const OWN =
  '(SELECT cm.copy_id FROM copy_member cm JOIN assignment a ON a.id = cm.assignment_id WHERE cm.person_id = :personId AND a.class_id = :classId)';
const OWN_HAND_INS = `(SELECT id FROM hand_in WHERE copy_id IN ${OWN})`;
const OWN_BACKS = `(SELECT id FROM hand_back WHERE copy_id IN ${OWN})`;
export const OF_STUDENT: readonly RecordPart[] = [
  part(PersonTable, 't.id = :personId'),
  part(MembershipTable, 't.class_id = :classId AND t.person_id = :personId'),
  part(CopyTable, `t.id IN ${OWN}`),
  part(CopyMemberTable, `t.copy_id IN ${OWN} AND t.person_id = :personId`),
  part(CopyAnswerTable, `t.copy_id IN ${OWN}`),
  part(CopyTextTable, `t.copy_id IN ${OWN}`),
  part(CopyTextUpdateTable, `t.copy_id IN ${OWN}`),
  part(CopyMarkTable, `t.copy_id IN ${OWN}`),
  part(CopyTrailTable, `t.copy_id IN ${OWN}`),
  part(DocumentTable, `t.copy_id IN ${OWN}`),
  part(HandInTable, `t.copy_id IN ${OWN}`),
  part(HandInDocumentTable, `t.hand_in_id IN ${OWN_HAND_INS}`),
  part(HandInAnswerTable, `t.hand_in_id IN ${OWN_HAND_INS}`),
  part(TakenBackTable, `t.copy_id IN ${OWN}`),
  part(HandBackTable, `t.copy_id IN ${OWN}`),
  part(OpenedTable, `t.hand_back_id IN ${OWN_BACKS} AND t.person_id = :personId`),
  part(HeardTable, `t.hand_back_id IN ${OWN_BACKS} AND t.person_id = :personId`),
  part(MessageTable, `t.copy_id IN ${OWN}`),
  part(MessageReadTable, `t.copy_id IN ${OWN} AND t.person_id = :personId`),
  part(
    RemarkTable,
    `t.id IN (SELECT remark_id FROM remark_student WHERE person_id = :personId) AND t.class_id = :classId`,
  ),
  part(RemarkAnswerTable, `t.person_id = :personId AND t.remark_id IN ${R}`),
  part(ReportTable, 't.class_id = :classId AND t.person_id = :personId'),
];

/** What nobody's password proves: accounts that were read back get new ones. */
export const NO_PASSWORD = '*';

/** The rows of one table, as the code knows them, in the order of their keys. */
export async function rowsOf(
  db: Db,
  { table, where }: RecordPart,
  of: { readonly classId: ClassId; readonly personId?: PersonId },
): Promise<object[]> {
  const query = db.createQueryBuilder(table, 't').where(where, of);
  for (const [key, column] of Object.entries(table.options.columns))
    if ((column as { primary?: boolean }).primary) query.addOrderBy(`t.${key}`);
  const rows = await query.getMany();
  const without: Readonly<Record<string, object>> = {
    person: { passwordHash: NO_PASSWORD, firstPassword: false },
    assignment: { familyToken: null },
    // Points are part of the marking.
    ...(of.personId ? { hand_in_answer: { points: null } } : {}),
  };
  const gone = without[table.table];
  return gone ? rows.map((row) => ({ ...row, ...gone })) : rows;
}

/** SHA-256 values anywhere in a row: of files, recordings and pictures, also those that marks name. */
export const digestsIn = (text: string): string[] => [
  ...new Set([...text.matchAll(/"([0-9a-f]{64})"/g)].map((m) => m[1]!)),
];

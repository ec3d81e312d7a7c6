import {
  type ChangeId,
  EMPTY_SHEET,
  type Mark,
  type MarkId,
  type MarkingState,
  type Sheet,
} from '@jotmark/core';
import type { RawRow } from '../database/raw.ts';

/** Whatever can be asked: the database, a transaction, a batch. */
export interface Asked {
  query(sql: string, values?: unknown[]): Promise<RawRow>;
}

/** Columns that make a SlipRow, of the marking table named `m`. */
export const SLIP_COLUMNS = `(SELECT MAX(x.seq) FROM marking_change x WHERE x.hand_in_id = m.hand_in_id) AS seq,
  m.grade, m.grade_version, m.closing, m.closing_version, m.done, m.done_version`;

export interface SlipRow {
  readonly seq: number | null;
  readonly grade: number | null;
  readonly grade_version: ChangeId | null;
  readonly closing: string;
  readonly closing_version: ChangeId | null;
  readonly done: number;
  readonly done_version: ChangeId | null;
}

export function slipOf(row: SlipRow | undefined): MarkingState['slip'] {
  if (!row) return EMPTY_SHEET.slip;
  return {
    grade: { value: row.grade, version: row.grade_version },
    closing: { value: row.closing, version: row.closing_version },
    done: { value: Boolean(row.done), version: row.done_version },
  };
}

/** One marking as it stands. Nobody has begun: sequence 0 and an empty sheet. */
export async function readMarking(db: Asked, handInId: string): Promise<MarkingState> {
  const [row] = await db.query(`SELECT ${SLIP_COLUMNS} FROM marking m WHERE m.hand_in_id = ?`, [handInId]);
  const marks = row ? await readMarks(db, handInId, null) : [];
  return { seq: row?.seq ?? 0, marks, slip: slipOf(row) };
}

export async function readMarks(
  db: Asked,
  handInId: string,
  only: readonly MarkId[] | null,
): Promise<MarkingState['marks']> {
  if (only?.length === 0) return [];
  const rows: { id: MarkId; version: ChangeId; value: string | null }[] = await db.query(
    `SELECT id, version, value FROM mark WHERE hand_in_id = ?${only ? ' AND id IN (?)' : ''}`,
    only ? [handInId, only] : [handInId],
  );
  return rows.map((r) => ({
    id: r.id,
    version: r.version,
    mark: r.value === null ? null : (JSON.parse(r.value) as Mark),
  }));
}

export function sheetOf(state: MarkingState): Sheet {
  return {
    marks: new Map(state.marks.map((m) => [m.id, { value: m.mark, version: m.version }])),
    slip: state.slip,
    answers: EMPTY_SHEET.answers,
  };
}

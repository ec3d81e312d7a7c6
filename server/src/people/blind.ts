import { blindName } from '@jotmark/core';
import type { RawRow } from '../database/raw.ts';
import type { House } from '../house.ts';

/**
 * Whether the copy `c` of assignment `a` is marked blind now: the pile is, and its newest hand-in was not handed back. Every
 * answer to a teacher that would name a student asks this.
 */
export const BLIND_COLUMN = `(a.blind AND NOT EXISTS (SELECT 1 FROM hand_back bb JOIN hand_in bh ON bh.id = bb.hand_in_id
   WHERE bh.copy_id = c.id AND bh.number = (SELECT MAX(bn.number) FROM hand_in bn WHERE bn.copy_id = c.id))) AS is_blind`;

/** The student as a teacher may see them; `row` has `is_blind`, `copy_id`, `given` and `family`. */
export function shownStudent(row: RawRow): { given: string; family: string } {
  return Number(row.is_blind) ? blindName(row.copy_id) : { given: row.given, family: row.family };
}

export const fullName = (student: { given: string; family: string }): string =>
  `${student.given} ${student.family}`.trim();

/** A file's name while its copy is blind: what it is called may say whose it is. */
export function blindFileName(name: string, index: number): string {
  const ending = /\.[A-Za-z0-9]{1,5}$/.exec(name)?.[0] ?? '';
  return `File ${index + 1}${ending}`;
}

export async function setBlind(house: House, assignmentId: string, blind: boolean): Promise<void> {
  await house.db.query('UPDATE assignment SET blind = ? WHERE id = ?', [blind, assignmentId]);
}

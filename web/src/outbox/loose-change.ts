import {
  type Change,
  type ChangeId,
  type QuestionId,
  type Score,
  type ScoreOf,
  type Sheet,
  type SlipField,
  type SlipValue,
  type Subject,
  versionOf,
} from '@jotmark/core';
import type { SheetId } from './device.ts';

/** A change that gives something a value. */
export type Valued = Extract<Change, { readonly type: 'write' | 'score' }>;

/** Makes a change on what stands. */
export type Remake = (stands: {
  readonly id: ChangeId;
  readonly base: ChangeId | null;
  readonly was: unknown;
}) => Change;

/** What a field of the slip or a score is in a sheet, and by which change. */
export function standsIn(sheet: Sheet, subject: Subject): { was: unknown; base: ChangeId | null } {
  const base = versionOf(sheet, subject);
  if (subject.startsWith('slip:')) return { base, was: sheet.slip[subject.slice(5) as SlipField].value };
  return { base, was: sheet.scores.get(subject.slice('score:'.length) as ScoreOf)?.value ?? null };
}

/** The slip of a copy that lies in the pile: what is changed, and what it was changed on. */
export interface SlipWrite<F extends SlipField> {
  readonly sheetId: SheetId;
  readonly field: F;
  readonly value: SlipValue<F>;
  readonly was: SlipValue<F>;
  readonly base: ChangeId | null;
}

/** An answer of a student's copy as the server said it last. */
export interface AnswerStands {
  readonly question: QuestionId;
  readonly value: string;
  readonly version: ChangeId | null;
}

/** A score in a marking that lies in the pile, in the same way. */
export interface ScoreWrite {
  readonly sheetId: SheetId;
  readonly of: ScoreOf;
  readonly value: Score | null;
  readonly was: Score | null;
  readonly base: ChangeId | null;
}

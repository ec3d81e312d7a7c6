import {
  type AssignmentId,
  type Change,
  type ChangeId,
  type CopyId,
  Evening,
  EveningChange,
  type EveningId,
  eachSlipField,
  type HandInId,
  type Mark,
  type MarkId,
  type MarkingId,
  type PersonId,
  readChange,
  readMark,
  Score,
  ScoreOf,
  SLIP,
  type SlipField,
  type SlipValue,
} from '@jotmark/core';
import * as z from 'zod';
import {
  type Column,
  flag,
  id,
  int,
  json,
  jsonOf,
  long,
  maybe,
  moment,
  oneOf,
  primary,
  small,
  table,
  text,
} from '../columns.ts';

type SlipColumns = { [F in SlipField]: SlipValue<F> } & {
  [F in SlipField as `${F}Version`]: ChangeId | null;
};

/**
 * All that a teacher does to one copy: to one hand-in of it, or, where `handInId` is null, to the copy itself, of which nothing came in (a talk, work on
 * paper) or which is still being worked on. `number` is the hand-in's, 0 without one, so that each has one marking at most.
 */
export interface MarkingRow extends SlipColumns {
  id: MarkingId;
  copyId: CopyId;
  handInId: HandInId | null;
  number: number;
  markerId: PersonId;
  begunAt: number;
  doneAt: number | null;
  leftAt: number;
  /** The grade as core computed it from the scores, in hundredths; null: none can be. */
  computed: number | null;
}

const slipColumn = {
  int: () => maybe(int()),
  long,
  flag,
  json: () => maybe(json((raw) => ({ ok: true, value: raw }))),
} as const;
const slip = Object.assign(
  {},
  ...Object.values(
    eachSlipField((field) => ({
      [field]: slipColumn[SLIP[field].column](),
      [`${field}Version`]: maybe(id()),
    })),
  ),
) as { [K in keyof SlipColumns]: Column<SlipColumns[K]> };

export const MarkingTable = table<MarkingRow>(
  'marking',
  {
    id: primary(id()),
    copyId: id(),
    handInId: maybe(id()),
    number: int(),
    markerId: id(),
    begunAt: moment(),
    doneAt: maybe(moment()),
    leftAt: small(),
    computed: maybe(int()),
    ...slip,
  },
  { copy: ['copy', 'copyId'], handIn: ['hand_in', 'handInId'] },
);

export const RoundKind = z.enum(['midway', 'final']);
export type RoundKind = z.infer<typeof RoundKind>;

/** One round of a marking: it is dated, kept, and released by itself. */
export interface MarkingRoundRow {
  markingId: MarkingId;
  number: number;
  kind: RoundKind;
  begunAt: number;
  releasedAt: number | null;
}
export const MarkingRoundTable = table<MarkingRoundRow>(
  'marking_round',
  {
    markingId: primary(id()),
    number: primary(int()),
    kind: oneOf(RoundKind, 10),
    begunAt: moment(),
    releasedAt: maybe(moment()),
  },
  { marking: ['marking', 'markingId'] },
);

/** A mark as it stands; without a value it was taken away. */
export interface MarkRow {
  markingId: MarkingId;
  id: MarkId;
  version: ChangeId;
  value: Mark | null;
}
export const MarkTable = table<MarkRow>(
  'mark',
  {
    markingId: primary(id()),
    id: primary(id()),
    version: id(),
    value: maybe(json((raw) => ({ ok: true, value: readMark(raw) }))),
  },
  { marking: ['marking', 'markingId'] },
);

/** A score as it stands; without a value it was taken away. Without a version it came from before the hand-in. */
export interface ScoreRow {
  markingId: MarkingId;
  subject: ScoreOf;
  version: ChangeId | null;
  value: Score | null;
}
export const ScoreTable = table<ScoreRow>(
  'score',
  {
    markingId: primary(id()),
    subject: primary(oneOf(ScoreOf, 50)),
    version: maybe(id()),
    value: maybe(jsonOf(Score)),
  },
  { marking: ['marking', 'markingId'] },
);

/** The log of a marking: every change that was ever taken, in order. */
export interface MarkingChangeRow {
  markingId: MarkingId;
  seq: number;
  changeId: ChangeId;
  byId: PersonId;
  at: number;
  value: Change;
}
export const MarkingChangeTable = table<MarkingChangeRow>(
  'marking_change',
  {
    markingId: primary(id()),
    seq: primary(int()),
    changeId: id(),
    byId: id(),
    at: moment(),
    value: json((raw) => readChange(raw)),
  },
  { marking: ['marking', 'markingId'] },
);

/** A time the grades of a pile were evened out, with its reason. */
export interface EveningRow {
  id: EveningId;
  assignmentId: AssignmentId;
  byId: PersonId;
  at: number;
  how: Evening;
  reason: string;
  changes: EveningChange[];
  undoneAt: number | null;
}
export const EveningTable = table<EveningRow>(
  'evening',
  {
    id: primary(id()),
    assignmentId: id(),
    byId: id(),
    at: moment(),
    how: jsonOf(Evening),
    reason: text(1000),
    changes: jsonOf(z.array(EveningChange)),
    undoneAt: maybe(moment()),
  },
  { assignment: ['assignment', 'assignmentId'] },
);

export const MARKING = [
  MarkingTable,
  MarkingRoundTable,
  MarkTable,
  ScoreTable,
  MarkingChangeTable,
  EveningTable,
];

import type { AssignmentHead, AssignmentId, AssignmentStage } from '@jotmark/core';

/** Columns that `headOf` reads, for a join of assignment `a` and school_class `k`. */
export const HEAD_COLUMNS = 'a.id AS assignment_id, a.title, k.name AS class_name, a.due_at, a.most';

export interface HeadColumns {
  readonly assignment_id: AssignmentId;
  readonly title: string;
  readonly class_name: string;
  readonly due_at: Date | null;
  readonly most: number | null;
}

/** The head of an assignment; `ownDate` is a student's own due date where there is one. */
export function headOf(row: HeadColumns, ownDate: Date | null = null): AssignmentHead {
  return {
    id: row.assignment_id,
    title: row.title,
    className: row.class_name,
    dueAt: (ownDate ?? row.due_at)?.getTime() ?? null,
    most: row.most,
  };
}

/** Without a moment to open it is a draft; before that moment nobody but its teachers knows of it. */
export function stageOf(opensAt: Date | null, now: number): AssignmentStage {
  if (opensAt === null) return 'draft';
  return opensAt.getTime() > now ? 'upcoming' : 'open';
}

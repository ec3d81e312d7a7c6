import {
  type AssignmentId,
  type ClassId,
  type CopyId,
  LoggedAct,
  type Person,
  type PersonId,
  type RouteName,
} from '@jotmark/core';
import type { House } from '../house.ts';
import { logAct } from '../register/acts.ts';

const LOGGED: ReadonlySet<string> = new Set(LoggedAct.options);

/** After a request was answered for: where its kind belongs into the log of acts, who did it and to what. */
export async function keepAct(
  house: House,
  name: RouteName,
  person: Person,
  { params, body }: { readonly params: unknown; readonly body: unknown },
  reply: unknown,
): Promise<void> {
  if (!LOGGED.has(name) || (body as { look?: unknown } | null)?.look === true) return;
  const order = (body as { order?: unknown } | null)?.order;
  const { personId, classId } = (reply ?? {}) as { personId?: string; classId?: string };
  const named: Record<string, string | undefined> = {
    ...(personId && { personId }),
    ...(classId && { classId }),
    ...(params as Record<string, string>),
    ...(order as Record<string, string> | undefined),
  };
  const many = (body as { personIds?: readonly PersonId[] } | null)?.personIds ?? [];
  const row = {
    byId: person.id,
    act: name as LoggedAct,
    classId: (named.classId as ClassId | undefined) ?? null,
    assignmentId: (named.assignmentId as AssignmentId | undefined) ?? null,
    copyId: (named.copyId as CopyId | undefined) ?? null,
    personId: (named.personId as PersonId | undefined) ?? null,
  };
  if (many.length === 0) await logAct(house, row);
  // What was done to many is told of each.
  for (const personId of many) await logAct(house, { ...row, personId });
}

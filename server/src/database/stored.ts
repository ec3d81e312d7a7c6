import type * as z from 'zod';

/** How a stored text is read as a value: JSON first, unless it is `plain`. */
export interface Stored<T> {
  readonly read: (raw: unknown) => z.ZodSafeParseResult<T> | Misread<T>;
  readonly plain: boolean;
}

/** Core's readers of versioned values say it this way. */
export type Misread<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly expected: string };

/** A stored value that is not what its column holds. It names where it stands and what was expected; the value itself stays as it is. */
export class Unreadable extends Error {
  readonly table: string;
  readonly id: string;

  constructor(table: string, id: string, column: string, expected: string) {
    super(`${table}.${column} of ${id} cannot be read: expected ${expected}`);
    this.table = table;
    this.id = id;
  }
}

/** Reads one stored text; throws Unreadable. */
export function readJson<T>(table: string, id: string, column: string, stored: Stored<T>, raw: string): T {
  let value: unknown = raw;
  if (!stored.plain)
    try {
      value = JSON.parse(raw);
    } catch {
      throw new Unreadable(table, id, column, 'JSON');
    }
  const found = stored.read(value);
  if ('ok' in found) {
    if (found.ok) return found.value;
    throw new Unreadable(table, id, column, found.expected);
  }
  if (found.success) return found.data;
  const issue = found.error.issues[0]!;
  throw new Unreadable(table, id, column, `${issue.message} at ${issue.path.join('.') || 'its top'}`);
}

import type * as z from 'zod';

/** A stored value as it was read, or what was expected in its place. The value that could not be read stays where it is. */
export type Reading<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly expected: string };

/** Brings a value of version n to version n + 1. Pure: the same value always becomes the same. */
export type Step = (value: Readonly<Record<string, unknown>>) => Readonly<Record<string, unknown>>;

/**
 * Reads a stored value of any version there ever was: `steps[n - 1]` brings version n forward, one after the other, and the newest
 * is read by `schema`. A value without `v` is of version 1. One of a version to come is not guessed at.
 */
export function readVersioned<T>(raw: unknown, steps: readonly Step[], schema: z.ZodType<T>): Reading<T> {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw))
    return { ok: false, expected: 'an object' };
  let value = raw as Readonly<Record<string, unknown>>;
  const from = value.v ?? 1;
  const newest = steps.length + 1;
  if (typeof from !== 'number' || !Number.isInteger(from) || from < 1)
    return { ok: false, expected: 'a version' };
  if (from > newest) return { ok: false, expected: `version ${newest} at most, not ${from}` };
  try {
    for (const step of steps.slice(from - 1)) value = step(value);
  } catch (error) {
    return { ok: false, expected: error instanceof Error ? error.message : String(error) };
  }
  return readBy(schema, value);
}

/** Reads a value that has no versions of its own. */
export function readBy<T>(schema: z.ZodType<T>, raw: unknown): Reading<T> {
  const found = schema.safeParse(raw);
  if (found.success) return { ok: true, value: found.data };
  const issue = found.error.issues[0]!;
  return { ok: false, expected: `${issue.message} at ${issue.path.join('.') || 'its top'}` };
}

import * as z from 'zod';

/** Who may call a route at all; whether they may see this very thing is decided behind it. */
export type Who = 'anyone' | 'person' | 'teacher' | 'student' | 'administrator';

export interface Route<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
> {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
  readonly who: Who;
  readonly summary: string;
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  readonly reply: R;
  /** 'json' unless the route sends or takes bytes. */
  readonly sends: 'json' | 'bytes';
  readonly takes: 'json' | 'file';
  /** The most bytes its body may have; of files see FILE_LIMITS. */
  readonly limit: number;
}

/** What a body may have where a route says nothing else. */
export const BODY_LIMIT = 16 * 1024;

const Nothing = z.object({});
const Ok = z.object({ ok: z.literal(true) });
/** Bytes go straight to the answer. */
export const Bytes = z.unknown();

export function route<
  P extends z.ZodType = typeof Nothing,
  Q extends z.ZodType = typeof Nothing,
  B extends z.ZodType = typeof Nothing,
  R extends z.ZodType = typeof Ok,
>(
  method: Route['method'],
  path: string,
  who: Who,
  summary: string,
  shape: { params?: P; query?: Q; body?: B; reply?: R; sends?: 'bytes'; takes?: 'file'; limit?: number } = {},
): Route<P, Q, B, R> {
  return {
    method,
    path,
    who,
    summary,
    params: shape.params ?? (Nothing as unknown as P),
    query: shape.query ?? (Nothing as unknown as Q),
    body: shape.body ?? (Nothing as unknown as B),
    reply: shape.reply ?? (Ok as unknown as R),
    sends: shape.sends ?? 'json',
    takes: shape.takes ?? 'json',
    limit: shape.limit ?? BODY_LIMIT,
  };
}

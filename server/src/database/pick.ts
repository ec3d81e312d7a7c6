import type { EntityManager, ObjectLiteral, SelectQueryBuilder } from 'typeorm';
import type { Misread, Stored } from './stored.ts';
import { readJson, Unreadable } from './stored.ts';

/** Reads one column of an answer; throws what it expected instead. */
export type Reader<T> = (value: unknown, at: Where) => T;
export interface Where {
  readonly column: string;
  /** The row's first column, which by custom is its id. */
  readonly row: string;
}

const misfit = (expected: string, at: Where): never => {
  throw new Unreadable('answer', at.row, at.column, expected);
};

/** Readers for the columns of a query: what comes back is checked, not believed. */
export const as = {
  id:
    <T extends string>(): Reader<T> =>
    (v, at) =>
      typeof v === 'string' && v.length === 36 ? (v as T) : misfit('an id', at),
  text: (v: unknown, at: Where): string => (typeof v === 'string' ? v : misfit('text', at)),
  /** Whole numbers; counts and sums come as strings. */
  int: (v: unknown, at: Where): number => {
    const n = typeof v === 'string' ? Number(v) : v;
    return typeof n === 'number' && Number.isSafeInteger(n) ? n : misfit('a whole number', at);
  },
  flag: (v: unknown, at: Where): boolean =>
    v === 1 || v === '1' || v === true
      ? true
      : v === 0 || v === '0' || v === false
        ? false
        : misfit('0 or 1', at),
  moment: (v: unknown, at: Where): number => (v instanceof Date ? v.getTime() : misfit('a moment', at)),
  bytes: (v: unknown, at: Where): Buffer => (Buffer.isBuffer(v) ? v : misfit('bytes', at)),
  maybe:
    <T>(read: Reader<T>): Reader<T | null> =>
    (v, at) =>
      v === null || v === undefined ? null : read(v, at),
  /** Of a sum or maximum over nothing: 0. */
  count: (v: unknown, at: Where): number => (v === null ? 0 : as.int(v, at)),
  json:
    <T>(read: Stored<T>['read']): Reader<T> =>
    (v, at) =>
      readJson('answer', at.row, at.column, { read, plain: false }, as.text(v, at)),
  oneOf:
    <T extends string>(options: readonly T[]): Reader<T> =>
    (v, at) =>
      options.includes(v as T) ? (v as T) : misfit(`one of ${options.join(', ')}`, at),
} as const;

export type { Misread };

/** The columns of an answer, each with its reader. */
export type Shape = Readonly<Record<string, Reader<unknown>>>;
export type RowOf<S extends Shape> = { readonly [K in keyof S]: ReturnType<S[K]> };

/** Rows as a statement of ours gave them, read by their shape. Throws Unreadable. */
export function readRows<S extends Shape>(rows: readonly unknown[], shape: S): RowOf<S>[] {
  const columns = Object.entries(shape);
  return rows.map((row) => {
    const values = row as Record<string, unknown>;
    const first = String(Object.values(values)[0]);
    const out: Record<string, unknown> = {};
    for (const [column, read] of columns) out[column] = read(values[column], { column, row: first });
    return out as RowOf<S>;
  });
}

/** A column of a select: what it is made from, and how it is read. */
export interface Picked<T> {
  readonly sql: string;
  readonly read: Reader<T>;
}
export const col = <T>(sql: string, read: Reader<T>): Picked<T> => ({ sql, read });

export type Picks = Readonly<Record<string, Picked<unknown>>>;
export type RowOfPicks<P extends Picks> = {
  readonly [K in keyof P]: P[K] extends Picked<infer T> ? T : never;
};

/** Runs a select for these columns and gives its rows, read and typed. */
export async function pick<P extends Picks, E extends ObjectLiteral>(
  query: SelectQueryBuilder<E>,
  columns: P,
): Promise<RowOfPicks<P>[]> {
  query.select([]);
  for (const [name, { sql }] of Object.entries(columns)) query.addSelect(sql, name);
  const rows = await query.getRawMany();
  const shape = Object.fromEntries(Object.entries(columns).map(([name, { read }]) => [name, read]));
  return readRows(rows, shape) as unknown as RowOfPicks<P>[];
}

/** The first row, or null. */
export async function pickOne<P extends Picks, E extends ObjectLiteral>(
  query: SelectQueryBuilder<E>,
  columns: P,
): Promise<RowOfPicks<P> | null> {
  return (await pick(query, columns))[0] ?? null;
}

/** Whether the select gives any row. */
export async function exists<E extends ObjectLiteral>(query: SelectQueryBuilder<E>): Promise<boolean> {
  return (await query.select('1', 'one').limit(1).getRawMany()).length > 0;
}

/** A manager of the database or of a transaction. */
export type Db = EntityManager;

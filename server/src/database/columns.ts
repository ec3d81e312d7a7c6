import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';
import type * as z from 'zod';
import { readJson, type Stored } from './stored.ts';

/**
 * What a column holds, in the code's own terms: moments are milliseconds, flags are booleans, JSON is core's value. The table's
 * row type and its columns are held against each other by the compiler.
 */
export interface Column<T> {
  readonly options: EntitySchemaColumnOptions;
  /** Of JSON: how its text is read. */
  readonly stored?: Stored<T>;
  /** Never set: it lets the compiler hold the column against the row type. */
  readonly holds?: T;
}

const column = <T>(options: EntitySchemaColumnOptions): Column<T> => ({ options });
const ASCII = { charset: 'ascii', collation: 'ascii_bin' } as const;

/** An id of ours, UUIDv7. */
export const id = <T extends string>(): Column<T> => column({ type: 'char', length: 36, ...ASCII });
/** A SHA-256 in hexadecimal. */
export const digest = (): Column<string> => column({ type: 'char', length: 64, ...ASCII });
export const text = (length: number): Column<string> => column({ type: 'varchar', length });
export const ascii = (length: number): Column<string> => column({ type: 'varchar', length, ...ASCII });
export const long = (): Column<string> => column({ type: 'longtext' });
/** Up to 64 kB of words. */
export const words = (): Column<string> => column({ type: 'text' });
export const int = (): Column<number> => column({ type: 'int' });
export const small = (): Column<number> => column({ type: 'smallint', unsigned: true });
/** Whole numbers beyond 2³¹, exact up to 2⁵³. */
export const big = (): Column<number> =>
  column({
    type: 'bigint',
    transformer: { to: (v: number) => v, from: (v: string | null) => (v === null ? null : Number(v)) },
  });
export const flag = (): Column<boolean> => column({ type: 'boolean' });
export const bytes = (): Column<Buffer> => column({ type: 'mediumblob' });
/** A moment, in milliseconds of Unix time; in the database DATETIME(3) in UTC. */
export const moment = (): Column<number> =>
  column({
    type: 'datetime',
    precision: 3,
    transformer: {
      to: (v: number | null | undefined) => (v == null ? v : new Date(v)),
      from: (v: Date | null) => v?.getTime() ?? null,
    },
  });
/** One of a few words, as a schema names them. */
export const oneOf = <T extends string>(schema: z.ZodType<T>, length: number): Column<T> => ({
  options: { type: 'varchar', length },
  stored: { read: (raw) => schema.safeParse(raw), plain: true },
});
/** A value of core's, as JSON. It is read by core's own schema each time it is loaded. */
export const json = <T>(read: Stored<T>['read']): Column<T> => ({
  options: {
    type: 'longtext',
    transformer: { to: (v: unknown) => (v == null ? v : JSON.stringify(v)), from: (v: unknown) => v },
  },
  stored: { read, plain: false },
});
/** The same by a plain schema. */
export const jsonOf = <T>(schema: z.ZodType<T>): Column<T> => json((raw) => schema.safeParse(raw));

export const primary = <T>(c: Column<T>): Column<T> => ({ ...c, options: { ...c.options, primary: true } });
export const maybe = <T>(c: Column<T>): Column<T | null> => ({
  ...(c as Column<T | null>),
  options: { ...c.options, nullable: true },
});

/** A table as TypeORM sees it, with how its stored values are read. */
export class Table<T extends object> extends EntitySchema<T> {
  readonly stored: ReadonlyMap<string, Stored<unknown>>;

  constructor(name: string, columns: Columns<T>, parents: Parents) {
    super({
      name,
      tableName: name,
      columns: Object.fromEntries(
        (Object.entries(columns) as [string, Column<unknown>][]).map(([key, c]) => [
          key,
          { ...c.options, name: snake(key) },
        ]),
      ) as never,
      // Relations are followed in joins only and are no part of the row.
      relations: Object.fromEntries(
        Object.entries(parents).map(([relation, [target, key]]) => [
          relation,
          { type: 'many-to-one', target, joinColumn: { name: snake(key) } },
        ]),
      ) as never,
    });
    this.stored = new Map(
      (Object.entries(columns) as [string, Column<unknown>][]).flatMap(([key, c]) =>
        c.stored ? [[key, c.stored] as const] : [],
      ),
    );
  }

  get table(): string {
    return this.options.name;
  }

  /** Puts read values in the place of the stored ones of a loaded row. Throws Unreadable. */
  readInto(row: T): void {
    const values = row as Record<string, unknown>;
    for (const [key, stored] of this.stored) {
      const raw = values[key];
      if (raw === undefined || raw === null) continue;
      values[key] = readJson(this.table, this.#idOf(values), key, stored, String(raw));
    }
  }

  #idOf(values: Record<string, unknown>): string {
    const keys = Object.entries(this.options.columns).flatMap(([key, c]) =>
      (c as EntitySchemaColumnOptions).primary ? [key] : [],
    );
    return keys.map((key) => String(values[key] ?? '?')).join('/');
  }
}

type Columns<T> = { readonly [K in keyof T]-?: Column<T[K]> };
/** Which table a row belongs to, and by which of its columns: for joins along it. */
type Parents = Readonly<Record<string, readonly [table: string, key: string]>>;

export function table<T extends object>(name: string, columns: Columns<T>, parents: Parents = {}): Table<T> {
  return new Table(name, columns, parents);
}

/** `handedInAt` is `handed_in_at` in the database. */
export const snake = (key: string): string => key.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

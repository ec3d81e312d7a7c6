import mysql, { type Pool, type PoolConnection } from 'mysql2/promise';
import { as, type RowOf, readRows, type Shape } from './pick.ts';
import { retrying } from './transaction.ts';

/**
 * Connections for the one path that a pen waits for. Several statements go in one packet, so that a save costs two trips to the
 * database and not five. Values are never part of the text: only placeholders are, as everywhere.
 */
export function openBatchPool(url: string): Pool {
  const pool = mysql.createPool({
    uri: url.replace(/^mariadb:/, 'mysql:'),
    multipleStatements: true,
    timezone: 'Z',
    charset: 'utf8mb4_unicode_ci',
    connectionLimit: 20,
  });
  // Each transaction reads after taking its copy's row lock and must see the newest. At the server's own level it would also
  // lock the gaps between the rows of neighbouring copies, and a class that types at once would run into deadlocks.
  pool.on('connection', (connection) => {
    connection.query('SET SESSION TRANSACTION ISOLATION LEVEL READ COMMITTED');
  });
  return pool;
}

export interface Statement {
  readonly sql: string;
  readonly values: readonly unknown[];
}

/** Changes that a transaction writes, and where. */
export interface Wrote {
  readonly table: 'marking_change' | 'copy_trail';
  readonly of: 'marking_id' | 'copy_id';
  readonly id: string;
  readonly changes: readonly string[];
}

/** A transaction in which statements can be sent together. It begins with the first packet and ends with the last. */
export class Batch {
  readonly #connection: PoolConnection;

  constructor(connection: PoolConnection) {
    this.#connection = connection;
  }

  /** Sends statements in one packet; gives what came of each, to be read by `rowsOf`. */
  async send(...statements: readonly Statement[]): Promise<readonly unknown[]> {
    const [answers] = await this.#connection.query(
      statements.map((s) => s.sql).join('; '),
      statements.flatMap((s) => s.values),
    );
    return (statements.length === 1 ? [answers] : answers) as unknown[];
  }

  /**
   * Sends the last statements, commits, and looks whether what was written stands. Where several nodes share a database one of them may take a transaction back between
   * two statements of a packet, and call the commit that follows in it good: seen on Galera, where an answer then told of a change that nobody had. `wrote` names
   * the changes that must stand in a table; fewer, and the whole is tried again.
   */
  async commit(statements: readonly Statement[], wrote: Wrote): Promise<void> {
    const { table, of, id, changes } = wrote;
    if (changes.length === 0) {
      await this.send(...statements, COMMIT);
      return;
    }
    const count: Statement = {
      sql: `SELECT COUNT(*) AS n FROM ${table} WHERE ${of} = ? AND change_id IN (?)`,
      values: [id, changes],
    };
    const [row] = rowsOf((await this.send(...statements, COMMIT, count)).at(-1), { n: as.int });
    if (row!.n < changes.length)
      throw Object.assign(new Error('what was committed does not stand'), { code: 'ER_LOCK_DEADLOCK' });
  }

  /** One statement that reads, with its rows read by their shape. */
  async rows<S extends Shape>(statement: Statement, shape: S): Promise<RowOf<S>[]> {
    return rowsOf((await this.send(statement))[0], shape);
  }
}

/** What came of one statement that reads. */
export function rowsOf<S extends Shape>(answer: unknown, shape: S): RowOf<S>[] {
  return readRows(answer as unknown[], shape);
}

export const BEGIN: Statement = { sql: 'START TRANSACTION', values: [] };
export const COMMIT: Statement = { sql: 'COMMIT', values: [] };

/** Runs `work`, which begins and commits by itself; what it left open is rolled back. Again when the database gave way to another. */
export async function inBatch<T>(pool: Pool, work: (batch: Batch) => Promise<T>): Promise<T> {
  return retrying(async () => {
    const connection = await pool.getConnection();
    try {
      return await work(new Batch(connection));
    } catch (error) {
      await connection.rollback().catch(() => connection.destroy());
      throw error;
    } finally {
      connection.release();
    }
  });
}

import type { DataSource, EntityManager } from 'typeorm';

/** Deadlock, lock wait, and Galera's certification failure: worth another try from the start. */
const RETRY = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_CHECKREAD']);
const TRIES = 4;

/**
 * Runs `work` in a transaction; again when the database gave way to another. What it returns was committed. Every statement sees the newest that was
 * committed: whoever freezes something takes its lock first and reads what stands after that.
 */
export async function inTransaction<T>(db: DataSource, work: (tx: EntityManager) => Promise<T>): Promise<T> {
  return retrying(() => db.transaction('READ COMMITTED', work));
}

export async function retrying<T>(work: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await work();
    } catch (error) {
      if (tries === TRIES || !RETRY.has(codeOf(error))) throw error;
    }
}

export function codeOf(error: unknown): string {
  const e = error as { code?: unknown; driverError?: { code?: unknown } };
  return String(e?.driverError?.code ?? e?.code ?? '');
}

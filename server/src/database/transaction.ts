import type { DataSource, EntityManager } from 'typeorm';

/** Deadlock, lock wait, and Galera's certification failure: worth one more try from the start. */
const RETRY = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_CHECKREAD']);

/** Runs `work` in a transaction; once more when the database gave way to another. What it returns was committed. */
export async function inTransaction<T>(db: DataSource, work: (tx: EntityManager) => Promise<T>): Promise<T> {
  return retryOnce(() => db.transaction(work));
}

export async function retryOnce<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!RETRY.has(codeOf(error))) throw error;
    return work();
  }
}

export function codeOf(error: unknown): string {
  const e = error as { code?: unknown; driverError?: { code?: unknown } };
  return String(e?.driverError?.code ?? e?.code ?? '');
}

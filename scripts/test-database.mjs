import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './machine.mjs';
import { startMariaDb } from './mariadb.mjs';

/** For Vitest: a database server of the tests' own, fresh, so that they run beside a running demo. */
export default async function setup(project) {
  const dir = join(ROOT, '.test/vitest', project.name);
  rmSync(dir, { recursive: true, force: true });
  const server = await startMariaDb(dir, undefined, { throwaway: true });
  project.provide('databasePort', server.port);
  return () => server.stop();
}

import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { fillSchool } from '@jotmark/school';
import { readSettings, serve } from '@jotmark/server';
import { makeElsewhere } from '@jotmark/server/made-elsewhere';

const ROOT = fileURLToPath(new URL('..', import.meta.url));

/** A database and a server of the tests' own, beside whatever runs; the demo school in it. Gives what takes it all down again. */
export default async function setUp(): Promise<() => Promise<void>> {
  const { startMariaDb } = (await import(join(ROOT, 'scripts/mariadb.mjs'))) as {
    startMariaDb(
      dir: string,
      first: undefined,
      how: { throwaway: boolean },
    ): Promise<{ url(name: string): string; stop(): Promise<void> }>;
  };
  const dir = join(ROOT, '.test/e2e');
  rmSync(dir, { recursive: true, force: true });
  const database = await startMariaDb(dir, undefined, { throwaway: true });
  const databaseUrl = database.url('jotmark');
  const running = await serve(
    readSettings({
      DATABASE_URL: databaseUrl,
      PORT: '0',
      WEB_DIR: join(ROOT, 'web/dist'),
      SCHOOL_NAME: 'Hollin Bay School',
      STAND_IN_DIR: join(ROOT, 'school'),
      JOTMARK_DEMO: '1',
      JOTMARK_CHECK_REPLIES: '1',
      JOTMARK_WORKERS: '2',
      LOG_LEVEL: 'error',
    }),
  );
  await fillSchool(running.house);
  await makeElsewhere(join(ROOT, '.test/elsewhere'));
  process.env.E2E_ADDRESS = running.address;
  process.env.E2E_DATABASE = databaseUrl;
  return async () => {
    await running.stop();
    await database.stop();
  };
}

import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, checkNode, installDebian, installNpm, ROOT, run } from './machine.mjs';
import { startMariaDb } from './mariadb.mjs';
import { main } from './say.mjs';

/** npm run screenshots: one picture of each main view, from a fresh demo school, into docs/screenshots. */
await main(async () => {
  checkNode();
  installDebian(true);
  installNpm();
  build();
  const dir = join(ROOT, '.test/screenshots');
  rmSync(dir, { recursive: true, force: true });
  const database = await startMariaDb(dir, undefined, { throwaway: true });
  process.env.DATABASE_URL = database.url('jotmark');
  try {
    run('node', ['school/dist/main.js']);
    const words = join(ROOT, '.test/words.txt');
    rmSync(words, { force: true });
    run('npx', ['tsx', 'e2e/screenshots.ts', join(ROOT, 'docs/screenshots'), words]);
    console.log(`The words of each view are in ${words}`);
  } finally {
    await database.stop();
  }
});

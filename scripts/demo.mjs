import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, checkDisk, checkNode, installDebian, installNpm, portIsFree, ROOT } from './machine.mjs';
import { startMariaDb } from './mariadb.mjs';
import { main, Stop } from './say.mjs';

const DATA = join(ROOT, '.data');
const PORT = Number(process.env.PORT ?? 4270);

/** npm run demo: installs what is missing, builds, starts a database of its own, fills in the school, serves. */
await main(async () => {
  checkNode();
  checkDisk(500);
  installDebian(false);
  installNpm();
  build();
  if (!(await portIsFree(PORT)))
    throw new Stop(
      `Port ${PORT} is in use by another program. Choose a free one: PORT=${PORT + 10} npm run demo`,
    );
  const fresh = process.argv.includes('--fresh');

  let server = null;
  let lesson = null;
  let database = null;
  let stopping = false;
  const stop = async (code) => {
    if (stopping) return;
    stopping = true;
    lesson?.kill('SIGTERM');
    if (server && server.exitCode === null) {
      server.kill('SIGTERM');
      await new Promise((resolve) => server.once('exit', resolve));
    }
    await database?.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stop(0));

  try {
    database = await startMariaDb(
      DATA,
      fresh ? () => rmSync(join(DATA, 'mariadb'), { recursive: true, force: true }) : undefined,
    );
    const env = {
      ...process.env,
      DATABASE_URL: database.url('jotmark'),
      PORT: String(PORT),
      WEB_DIR: join(ROOT, 'web/dist'),
      SCHOOL_NAME: 'Hollin Bay School',
      STAND_IN_DIR: join(ROOT, 'school'),
      MAIL_DIR: join(ROOT, '.data/outbox'),
      JOTMARK_DEMO: '1',
      LOG_LEVEL: process.env.LOG_LEVEL ?? 'error',
    };
    const filling = spawn('node', ['school/dist/main.js'], {
      cwd: ROOT,
      env,
      stdio: 'inherit',
      detached: true,
    });
    const filled = await new Promise((resolve) => filling.once('exit', resolve));
    if (filled !== 0)
      throw new Stop(
        'The demo school could not be filled in; what it says stands above. Begin again with: npm run demo -- --fresh',
      );
    // Its own group: Ctrl-C reaches this script, which stops server and database in order.
    server = spawn('node', ['server/dist/main.js'], {
      cwd: ROOT,
      env,
      stdio: ['ignore', 'pipe', 'inherit'],
      detached: true,
    });
    server.stdout.on('data', (text) => {
      process.stdout.write(text);
      if (!String(text).includes('serves on')) return;
      tellAccounts();
      // A class in the middle of a lesson: it ends with the server.
      if (process.argv.includes('--class'))
        lesson = spawn('node', ['school/dist/class/main.js', `http://127.0.0.1:${PORT}`], {
          cwd: ROOT,
          stdio: 'inherit',
          detached: true,
        });
    });
    server.once('exit', (code) => {
      if (!stopping)
        console.error(
          `The server stopped (${code}). What it says stands above; start again with: npm run demo`,
        );
      stop(code ?? 1);
    });
  } catch (error) {
    await database?.stop();
    throw error;
  }
});

function tellAccounts() {
  console.log(`
  Open http://127.0.0.1:${PORT} and choose one of the demo people there, or sign in with:
    teacher   quillfeather            password  hollin-island
    student   noor.abadiwhitlock      password  hollin-island
  Ctrl-C stops Jotmark and its database. "npm run demo -- --fresh" begins again with a new school;
  "npm run demo -- --class" starts a class in the middle of a lesson, to walk the room.`);
}

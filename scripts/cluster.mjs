import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { startNodes } from './galera.mjs';
import { build, checkNode, freePort, installDebian, installNpm, ROOT } from './machine.mjs';
import { main, Stop } from './say.mjs';

const FOLDER = `/tmp/jotmark-cluster-${process.getuid?.() ?? 0}`;

/** npm run cluster: three database nodes of one cluster on loopback, a server on each, and the demo school in it. To be looked at, and to have a node killed; Ctrl-C ends all. */
await main(async () => {
  checkNode();
  installDebian(false);
  installNpm();
  build();
  console.log('Three nodes start, one after another …');
  const nodes = await startNodes(FOLDER);
  const servers = [];
  let stopping = false;
  const stop = async (code) => {
    if (stopping) return;
    stopping = true;
    for (const server of servers) server.kill('SIGTERM');
    for (const node of nodes) await node.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stop(0));
  const env = (node) => ({
    ...process.env,
    DATABASE_URL: node.url,
    WEB_DIR: join(ROOT, 'web/dist'),
    SCHOOL_NAME: 'Hollin Bay School',
    JOTMARK_DEMO: '1',
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'error',
  });
  try {
    const filling = spawn('node', ['school/dist/main.js'], {
      cwd: ROOT,
      env: env(nodes[0]),
      stdio: 'inherit',
    });
    const code = await new Promise((resolve) => filling.once('exit', resolve));
    if (code !== 0) throw new Stop('The demo school could not be filled in; what it says stands above.');
    // One after another: the first brings the schema up to date, and a node's own lock is not the others'.
    for (const node of nodes) {
      const port = String(await freePort());
      const server = spawn('node', ['server/dist/main.js'], {
        cwd: ROOT,
        env: { ...env(node), PORT: port },
        stdio: ['ignore', 'pipe', 'inherit'],
      });
      servers.push(server);
      await new Promise((resolve, reject) => {
        server.stdout.on('data', (text) => String(text).includes('serves on') && resolve());
        server.once('exit', () => reject(new Stop('A server ended; what it says stands above.')));
      });
      console.log(`http://127.0.0.1:${port} on ${node.url.replace(/\/\/.*@/, '//')}`);
    }
    console.log(
      'Sign in on any of them; kill a node (its process is a mariadbd) and go on at the others. Ctrl-C ends all.',
    );
  } catch (error) {
    console.error(error.message);
    await stop(1);
  }
});

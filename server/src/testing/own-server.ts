import { type ChildProcess, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { Running } from '../serve.ts';

const main = fileURLToPath(new URL('../main.ts', import.meta.url));

/** A server on the same database, in a process of its own: it can be killed. Resolves when it serves. */
export async function ownServer(
  running: Running,
  settings: { readonly port?: number; readonly workers: number },
): Promise<ChildProcess> {
  const child = spawn('node', ['--import', 'tsx', '--conditions=jotmark-source', main], {
    env: {
      ...process.env,
      DATABASE_URL: running.house.settings.databaseUrl,
      PORT: String(settings.port ?? 0),
      JOTMARK_WORKERS: String(settings.workers),
      LOG_LEVEL: 'silent',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve, reject) => {
    child.stdout!.on('data', (text) => String(text).includes('serves on') && resolve());
    child.once('exit', (code) => reject(new Error(`ended with ${code}`)));
  });
  return child;
}

import { type ChildProcess, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { Running } from '../serve.ts';

const main = fileURLToPath(new URL('../main.ts', import.meta.url));

/** A server in a process of its own: it can be killed. On the same database, or on another node of it. Resolves when it serves. */
export async function ownServer(
  running: Running,
  settings: { readonly port?: number; readonly workers: number; readonly databaseUrl?: string },
): Promise<{ readonly child: ChildProcess; readonly address: string }> {
  const child = spawn('node', ['--import', 'tsx', '--conditions=jotmark-source', main], {
    env: {
      ...process.env,
      DATABASE_URL: settings.databaseUrl ?? running.house.settings.databaseUrl,
      PORT: String(settings.port ?? 0),
      JOTMARK_WORKERS: String(settings.workers),
      LOG_LEVEL: 'silent',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    child.stdout!.on('data', (text) => {
      const found = /serves on (http:\S+)/.exec(String(text));
      if (found) resolve(found[1]!);
    });
    child.once('exit', (code) => reject(new Error(`ended with ${code}`)));
  });
  return { child, address };
}

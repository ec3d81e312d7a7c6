import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { Running } from '@jotmark/server';

/** The server as it is really run: a process of its own, so that asking and answering do not share one thread. */
export async function ownProcess(
  running: Running,
  settings: Readonly<Record<string, string>> = {},
): Promise<{ address: string; pid: number; stop(): Promise<void> }> {
  const child = spawn('node', [fileURLToPath(new URL('../server/dist/main.js', import.meta.url))], {
    env: {
      ...process.env,
      DATABASE_URL: running.house.settings.databaseUrl,
      PORT: '0',
      JOTMARK_WORKERS: '0',
      LOG_LEVEL: 'error',
      ...settings,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    child.stdout.on('data', (text) => {
      const found = /serves on (http:\S+)/.exec(String(text));
      if (found) resolve(found[1]!);
    });
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
  });
  const stop = async () => {
    child.kill('SIGTERM');
    await new Promise((resolve) => child.once('exit', resolve));
  };
  return { address, pid: child.pid!, stop };
}

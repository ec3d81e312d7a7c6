import { spawn, spawnSync } from 'node:child_process';
import { stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { TaskFailed } from '../opening/opener.ts';

/** As long as one document may take, and the address space LibreOffice may fill. */
export const OFFICE_LIMITS = { ms: 45_000, bytes: 4 * 1024 ** 3 } as const;

/** Whether a process can be given no network; not every container allows it. */
let cutOff: boolean | null = null;
function canCutOff(): boolean {
  cutOff ??= spawnSync('unshare', ['-rn', 'true']).status === 0;
  return cutOff;
}

/**
 * Turns an office document into a PDF with LibreOffice, in a process group of its own with a profile of its own, without
 * network, under limits of time and memory. Its exit code says nothing (it is 0 for failures too), so the output is
 * looked for. Gives the path of the PDF in `folder`; throws TaskFailed.
 */
export async function convertOffice(
  file: string,
  filter: string,
  folder: string,
  limits: { readonly ms: number; readonly bytes: number; readonly program?: string } = OFFICE_LIMITS,
): Promise<string> {
  const args = [
    `--as=${limits.bytes}`,
    limits.program ?? 'soffice',
    `-env:UserInstallation=file://${join(folder, 'profile')}`,
    '--headless',
    '--norestore',
    '--nolockcheck',
    `--infilter=${filter}`,
    '--convert-to',
    'pdf',
    '--outdir',
    join(folder, 'office'),
    file,
  ];
  const [program, all] = canCutOff() ? ['unshare', ['-rn', 'prlimit', ...args]] : ['prlimit', args];
  const child = spawn(program as string, all as string[], {
    detached: true,
    stdio: 'ignore',
    cwd: dirname(file),
    env: { PATH: process.env.PATH ?? '', HOME: folder, LANG: 'C.UTF-8', TZ: 'UTC' },
  });
  const slow = await new Promise<boolean>((resolve, reject) => {
    const clock = setTimeout(() => {
      killGroup(child.pid);
      resolve(true);
    }, limits.ms);
    child.once('error', (error) => {
      clearTimeout(clock);
      reject(new TaskFailed('broken', error.message));
    });
    child.once('close', () => {
      clearTimeout(clock);
      resolve(false);
    });
  });
  // A helper it started may outlive it.
  killGroup(child.pid);
  if (slow) throw new TaskFailed('too-slow', `LibreOffice took over ${limits.ms} ms`);
  const out = join(folder, 'office', `${basename(file).replace(/\.[^.]*$/, '')}.pdf`);
  if (!(await stat(out).catch(() => null))?.size) throw new TaskFailed('broken', 'LibreOffice made no PDF');
  return out;
}

function killGroup(pid: number | undefined): void {
  if (!pid) return;
  try {
    process.kill(-pid, 'SIGKILL');
  } catch {
    // Gone already.
  }
}

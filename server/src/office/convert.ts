import { spawnSync } from 'node:child_process';
import { stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { runBounded } from '../programs/bounded.ts';
import { type Budget, Failed } from '../programs/failed.ts';

/** The address space LibreOffice may fill: much of it is never touched. */
const OFFICE_BYTES = 4 * 1024 ** 3;

/** A school may say that documents are converted although LibreOffice can fetch from the network here (see `OFFICE_WITH_NETWORK`). */
export const WITH_NETWORK = 'JOTMARK_OFFICE_WITH_NETWORK';

/** Whether office documents may be converted: where LibreOffice can be kept from the network, or it was said that it need not be. */
export const mayConvert = (): boolean => canCutOff() || process.env[WITH_NETWORK] === '1';

/** Whether a process can be given no network; not every container allows it. */
let cutOff: boolean | null = null;
export function canCutOff(): boolean {
  cutOff ??= spawnSync('unshare', ['-rn', 'true']).status === 0;
  return cutOff;
}

/**
 * Turns an office document into a PDF (or what `to` says) with LibreOffice, in a process group of its own with a profile of its own, without
 * network, under limits of time and memory. Its exit code says nothing (it is 0 for failures too), so the output is
 * looked for. Gives the path of what it made in `folder`; throws Failed.
 */
export async function convertOffice(
  file: string,
  filter: string,
  folder: string,
  budget: Budget,
  { program = 'soffice', to = 'pdf' }: { readonly program?: string; readonly to?: 'pdf' | 'fods' } = {},
): Promise<string> {
  if (!mayConvert()) throw new Failed('broken', 'LibreOffice cannot be kept from the network here');
  const args = [
    `-env:UserInstallation=file://${join(folder, 'profile')}`,
    '--headless',
    '--norestore',
    '--nolockcheck',
    `--infilter=${filter}`,
    '--convert-to',
    to,
    '--outdir',
    join(folder, 'office'),
    file,
  ];
  const { code } = await runBounded(
    program,
    args,
    { ...budget, bytes: OFFICE_BYTES },
    {
      cwd: dirname(file),
      env: { PATH: process.env.PATH ?? '', HOME: folder, TMPDIR: folder, LANG: 'C.UTF-8', TZ: 'UTC' },
      ...(canCutOff() ? { within: ['unshare', '-rn'] } : {}),
    },
  ).catch((error: Error) => {
    throw new Failed('broken', error.message);
  });
  const out = join(folder, 'office', `${basename(file).replace(/\.[^.]*$/, '')}.${to}`);
  // Its launcher ends with a code of its own when the program behind it was stopped for its time.
  if ((await stat(out).catch(() => null))?.size) return out;
  throw new Failed(code === null || code === 128 + 24 ? 'too-slow' : 'broken', `LibreOffice made no ${to}`);
}

import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);

/** LibreOffice at work in one folder: makes of the file `from` in it another, `to` being a form as LibreOffice names it. */
export const officeIn =
  (folder: string) =>
  (from: string, to: string): Promise<unknown> =>
    run('soffice', [
      `-env:UserInstallation=file://${join(folder, 'profile')}`,
      '--headless',
      '--convert-to',
      to,
      '--outdir',
      folder,
      join(folder, from),
    ]);

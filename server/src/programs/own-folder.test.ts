import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, rmSync, utimesSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { ownFolder, sweepFolders } from './own-folder.ts';

const made: string[] = [];
afterAll(() => {
  for (const path of made) rmSync(path, { recursive: true, force: true });
});
const folder = (name: string): string => {
  const path = join(tmpdir(), name);
  mkdirSync(path, { recursive: true });
  made.push(path);
  return path;
};

test('folders of servers that are no more go; those of who runs, and what is not ours, stay', async () => {
  const other = spawn('true');
  await once(other, 'exit');
  const mine = await ownFolder('job');
  made.push(mine);
  const left = folder(`jotmark-job-${other.pid}-AbCdEf`);
  // As they were called before.
  const older = folder('jotmark-in-XyZ123');
  const foreign = folder('jotmark-notes-of-mine');
  const stuck = folder(`jotmark-in-${process.pid}-qWeRtY`);
  const twoDaysAgo = Date.now() / 1000 - 2 * 86_400;
  utimesSync(stuck, twoDaysAgo, twoDaysAgo);
  await sweepFolders();
  expect([left, older, stuck].map((p) => existsSync(p))).toEqual([false, false, false]);
  expect([mine, foreign].map((p) => existsSync(p))).toEqual([true, true]);
});

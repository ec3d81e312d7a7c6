import { mkdtemp, readdir, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** What students handed in lies in such folders while it is worked on. Their names say whose they are: `jotmark-`, what for, the process. */
const NAME = /^jotmark-(?:in|job|archive)-(?:(\d+)-)?\w{6}$/;
/** No upload and no job takes so long. */
const OLD_MS = 24 * 3_600_000;

/** A folder of this process's own, for nobody else to read; whoever asks takes it away. */
export const ownFolder = (what: 'in' | 'job' | 'archive'): Promise<string> =>
  mkdtemp(join(tmpdir(), `jotmark-${what}-${process.pid}-`));

/** Takes away what a server that was killed has left. Those of servers that run beside this one stay. Gives how many went. */
export async function sweepFolders(now = Date.now()): Promise<number> {
  let swept = 0;
  for (const name of await readdir(tmpdir())) {
    const found = NAME.exec(name);
    if (!found) continue;
    const path = join(tmpdir(), name);
    const about = await stat(path).catch(() => null);
    if (!about?.isDirectory() || (process.getuid && about.uid !== process.getuid())) continue;
    const alive = found[1] !== undefined && isAlive(Number(found[1]));
    if (alive && now - about.mtimeMs < OLD_MS) continue;
    await rm(path, { recursive: true, force: true });
    swept++;
  }
  return swept;
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // It is there, and somebody else's.
    return (error as { code?: string }).code === 'EPERM';
  }
}

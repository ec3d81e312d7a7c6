import { type Ran, runBounded } from './bounded.ts';
import { type Budget, Failed } from './failed.ts';

/** Debian's qpdf under limits. 0 is fine, 2 an error, 3 warnings (for the checks it was asked). */
export function qpdf(args: readonly string[], budget: Budget): Promise<Ran> {
  return runBounded('qpdf', args, budget);
}

/** A qpdf that writes something, or Failed. Its 3 are warnings: it wrote what was asked for. */
export async function mustRun(args: readonly string[], budget: Budget): Promise<void> {
  const { code } = await qpdf(args, budget);
  if (code !== 0 && code !== 3)
    throw new Failed(code === null ? 'too-slow' : 'broken', `qpdf ended with ${code}`);
}

/** All pages of these files, one behind the other, with what is on them. */
export function joinPdfs(files: readonly string[], out: string, budget: Budget): Promise<void> {
  return mustRun(['--empty', '--pages', ...files, '--', out], budget);
}

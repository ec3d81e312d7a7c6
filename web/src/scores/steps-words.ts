import { type Criterion, formatPoints } from '@jotmark/core';

/** A place counted in half levels from 0, as tables show it: the points of the level, or its place; half ways between. −1: not shown. */
export function stepWords(criterion: Criterion | undefined, step: number): string {
  if (step < 0) return 'not shown';
  const low = criterion?.levels[step >> 1];
  if (!low) return '?';
  const at = (step >> 1) + 1;
  if (step % 2 === 0) return low.points === null ? low.name || String(at) : formatPoints(low.points);
  const high = criterion?.levels[(step >> 1) + 1];
  if (!high) return '?';
  return low.points === null || high.points === null ? `${at}½` : String((low.points + high.points) / 200);
}

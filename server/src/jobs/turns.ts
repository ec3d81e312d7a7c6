/** What a waiting job is weighed by. */
export interface Waiting {
  readonly id: string;
  readonly personId: string | null;
  /** Bytes it is about, roughly. */
  readonly size: number;
  /** Somebody looks at a screen until it is done. */
  readonly awaited: boolean;
  readonly createdAt: number;
}

/** Waiting for longer than this, in milliseconds, nothing goes before a job that came after it. */
export const LONGEST_WAIT_MS = 120_000;

/**
 * The order in which jobs are done. People take turns: everybody's first job comes before anybody's second, and who has jobs at work already
 * counts them. Within a turn what somebody waits for comes before what nobody waits for, small before large, old before new. What has waited too
 * long comes first, the oldest of all.
 */
export function inTurns<J extends Waiting>(
  waiting: readonly J[],
  atWork: ReadonlyMap<string | null, number>,
  now: number,
): J[] {
  const late = (job: J) => now - job.createdAt > LONGEST_WAIT_MS;
  const rest = waiting.filter((job) => !late(job)).sort(byWeight);
  const turns = new Map(atWork);
  const turn = new Map<string, number>();
  for (const job of rest) {
    const nth = turns.get(job.personId) ?? 0;
    turn.set(job.id, nth);
    turns.set(job.personId, nth + 1);
  }
  return [
    ...waiting.filter(late).sort(byAge),
    ...rest.sort((a, b) => turn.get(a.id)! - turn.get(b.id)! || byWeight(a, b)),
  ];
}

const byAge = (a: Waiting, b: Waiting) => a.createdAt - b.createdAt || (a.id < b.id ? -1 : 1);
/** Sizes count by their power of four: a megabyte more or less is not worth waiting for. */
const sizeClass = (bytes: number) => Math.floor(Math.log2(Math.max(1, bytes)) / 2);
const byWeight = (a: Waiting, b: Waiting) =>
  Number(b.awaited) - Number(a.awaited) || sizeClass(a.size) - sizeClass(b.size) || byAge(a, b);

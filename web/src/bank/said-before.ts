import { saysSame } from '@jotmark/core';
import * as z from 'zod';

const PLACE = 'jotmark.said-before';
/** As often as this something is typed before it offers itself. */
const OFFERED_AT = 3;
/** So many different things are remembered, and nothing shorter. */
const MOST = 400;
const SHORTEST = 8;

const Said = z.record(z.string(), z.number());

/** Counts what was typed on this device; true where it is the third time. What is shorter than a few words is not worth it. */
export function saidOnceMore(words: string): boolean {
  const says = saysSame(words).slice(0, 300);
  if (says.length < SHORTEST) return false;
  try {
    const before = Said.safeParse(JSON.parse(localStorage.getItem(PLACE) ?? '{}')).data ?? {};
    const { [says]: count = 0, ...others } = before;
    const kept = Object.entries(others).slice(-(MOST - 1));
    localStorage.setItem(PLACE, JSON.stringify(Object.fromEntries([...kept, [says, count + 1]])));
    return count + 1 === OFFERED_AT;
  } catch {
    return false;
  }
}

import type { PersonId } from '@jotmark/core';
import { type Take, Takes } from './takes.ts';

/** Whether this browser may hold recordings that a tab has left: so that nobody opens a database to find it empty. */
const LEFT = 'jotmark.takes';
const lockOf = (id: string) => `jotmark-take-${id}`;

export const rememberLeft = (): void => keep('yes');
export const forgetLeft = (): void => keep(null);

function keep(value: string | null): void {
  try {
    if (value) localStorage.setItem(LEFT, value);
    else localStorage.removeItem(LEFT);
  } catch {
    // Then a recording that is cut off waits for the next one that is made.
  }
}

export function mayHaveLeft(): boolean {
  try {
    return localStorage.getItem(LEFT) !== null;
  } catch {
    return false;
  }
}

/** As long as this tab lives, nobody else takes this recording up. Gives how to let go of it. */
export function holdTake(id: string): () => void {
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  navigator.locks?.request(lockOf(id), () => held).catch(() => {});
  return release;
}

/** The recordings of this person that no living tab is making. */
export async function leftTakes(personId: PersonId): Promise<Take[]> {
  const kept = await Takes.open().catch(() => null);
  const all = (await kept?.all().catch(() => [])) ?? [];
  const held = new Set(((await navigator.locks?.query())?.held ?? []).map((l) => l.name));
  return all.filter((t) => t.personId === personId && !held.has(lockOf(t.id)));
}

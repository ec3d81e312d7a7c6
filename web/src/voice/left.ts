import type { PersonId } from '@jotmark/core';
import { type Take, Takes } from './takes.ts';

const lockOf = (id: string) => `jotmark-take-${id}`;

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

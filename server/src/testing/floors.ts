import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';

export const ROOT = new URL('../../..', import.meta.url).pathname;

interface Floors {
  readonly floors: readonly { readonly holds: string; readonly rooms: readonly string[] }[];
  /** Arrows that go up or beside all the same, each with its reason. */
  readonly exceptions: readonly { readonly from: string; readonly to: string; readonly why: string }[];
}

/** The table of floors for one house, `server/src` say. */
export function floorsOf(house: string): Floors {
  return JSON.parse(readFileSync(join(ROOT, 'docs/floors.json'), 'utf8'))[house];
}

/** All source files below a folder, by their path in the project. */
export const sourcesIn = (folder: string): string[] =>
  readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' })
    .filter((f) => /\.tsx?$/.test(f))
    .map((f) => join(folder, f));

export const importsOf = (file: string): string[] =>
  [...readFileSync(join(ROOT, file), 'utf8').matchAll(/(?:from|import\()\s*'([^']+)'/g)].map((m) => m[1]!);

export interface Arrow {
  readonly from: string;
  readonly to: string;
}

/** Every import of one file of a house by another of it. Tests are no part of the house: they look into all of it. */
export function arrowsIn(house: string): Arrow[] {
  return sourcesIn(house)
    .filter((f) => !/\.test\.tsx?$/.test(f))
    .flatMap((from) =>
      importsOf(from)
        .filter((spec) => spec.startsWith('.'))
        .map((spec) => ({ from, to: relative(ROOT, resolve(join(ROOT, dirname(from)), spec)) }))
        .filter(({ to }) => existsSync(join(ROOT, to))),
    );
}

/** The room a file is in: its folder, or the file itself at the root of the house. */
export const roomOf = (house: string, file: string): string => relative(house, file).split('/')[0]!;

/** Arrows that go beside or up, and rooms that stand on no floor. */
export function wrongArrows(house: string): string[] {
  const { floors, exceptions } = floorsOf(house);
  const floorOf = new Map(floors.flatMap((f, i) => f.rooms.map((room) => [room, i] as const)));
  const wrong = new Set<string>();
  for (const { from, to } of arrowsIn(house)) {
    const [a, b] = [roomOf(house, from), roomOf(house, to)];
    for (const room of [a, b]) if (!floorOf.has(room)) wrong.add(`${room} stands on no floor`);
    if (a === b || floorOf.get(b)! < floorOf.get(a)!) continue;
    if (exceptions.some((e) => e.from === a && e.to === b)) continue;
    wrong.add(`${a} → ${b} (${from} imports ${to})`);
  }
  return [...wrong].sort();
}

/** Circles of files: each as the files that import each other round and round. */
export function circlesIn(house: string): string[][] {
  const next = new Map<string, string[]>();
  for (const { from, to } of arrowsIn(house)) next.set(from, [...(next.get(from) ?? []), to]);
  const circles: string[][] = [];
  const done = new Set<string>();
  const path: string[] = [];
  const walk = (file: string): void => {
    const at = path.indexOf(file);
    if (at >= 0) {
      circles.push(path.slice(at));
      return;
    }
    if (done.has(file)) return;
    path.push(file);
    for (const to of next.get(file) ?? []) walk(to);
    path.pop();
    done.add(file);
  };
  for (const file of next.keys()) walk(file);
  return circles;
}

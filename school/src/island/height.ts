/** Eastings and northings in kilometres, as on the map's grid; heights in metres, below 0 is sea. */
export interface Place {
  readonly name: string;
  readonly e: number;
  readonly n: number;
  readonly sign: 'hut' | 'summit' | 'lighthouse' | 'point' | 'tarn';
}

export const GRID = { e0: 31, e1: 38, n0: 73, n1: 79 } as const;

/** Humps that make the island: centre, spread in both ways, height. The north side falls steeply, the south side slowly. */
const HUMPS = [
  [34.4, 76.1, 0.62, 0.55, 196],
  [33.5, 75.6, 1.25, 1.1, 74],
  [35.7, 75.5, 1.2, 0.95, 66],
  [35.3, 76.6, 0.35, 0.3, 48],
  [32.7, 76.3, 0.7, 0.8, 34],
  [36.4, 76.2, 0.5, 0.6, 30],
] as const;

/** How far the coast stands above a level sea: takes the outer ring away. */
const SEA = 26;

export function heightAt(e: number, n: number): number {
  let h = -SEA;
  for (const [ce, cn, se, sn, top] of HUMPS)
    h += top * Math.exp(-(((e - ce) / se) ** 2 + ((n - cn) / sn) ** 2) / 2);
  // Small folds, so that no contour is a perfect oval.
  return 0.76 * h + 4 * Math.sin(e * 5.1 + n * 2.3) + 3 * Math.sin(n * 7.7 - e * 3.1);
}

export const PLACES: readonly Place[] = [
  { name: 'Tarn Hut', e: 35.42, n: 76.55, sign: 'hut' },
  { name: 'Fennel Point', e: 32.9, n: 75.1, sign: 'point' },
  { name: 'Hollin Top', e: 34.4, n: 76.1, sign: 'summit' },
  { name: 'Skerry Light', e: 36.6, n: 75.0, sign: 'lighthouse' },
  { name: 'Small Tarn', e: 35.0, n: 75.6, sign: 'tarn' },
];

/** Straight distance in metres. */
export function distance(a: { e: number; n: number }, b: { e: number; n: number }): number {
  return Math.hypot(a.e - b.e, a.n - b.n) * 1000;
}

/** Bearing from a to b in whole degrees, clockwise from grid north. */
export function bearing(a: { e: number; n: number }, b: { e: number; n: number }): number {
  return (Math.round((Math.atan2(b.e - a.e, b.n - a.n) * 180) / Math.PI) + 360) % 360;
}

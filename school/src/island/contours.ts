export type Polyline = [x: number, y: number][];

/**
 * Lines of equal height by marching squares on a grid of `steps` squares a unit, joined end to end into polylines.
 * Saddle squares are settled by the height in their middle.
 */
export function contour(
  height: (x: number, y: number) => number,
  level: number,
  area: { e0: number; e1: number; n0: number; n1: number },
  steps: number,
): Polyline[] {
  const nx = Math.round((area.e1 - area.e0) * steps);
  const ny = Math.round((area.n1 - area.n0) * steps);
  const at = (i: number, j: number) => [area.e0 + i / steps, area.n0 + j / steps] as const;
  const h = Array.from({ length: nx + 1 }, (_, i) =>
    Array.from({ length: ny + 1 }, (_, j) => height(...at(i, j)) - level),
  );
  const segments: [string, [number, number], string, [number, number]][] = [];
  for (let i = 0; i < nx; i++)
    for (let j = 0; j < ny; j++) {
      const corners = [
        [i, j],
        [i + 1, j],
        [i + 1, j + 1],
        [i, j + 1],
      ] as const;
      const v = corners.map(([a, b]) => h[a]![b]!);
      const cuts: [string, [number, number]][] = [];
      for (let k = 0; k < 4; k++) {
        const [a, b] = [corners[k]!, corners[(k + 1) % 4]!];
        const [va, vb] = [v[k]!, v[(k + 1) % 4]!];
        if (va > 0 === vb > 0) continue;
        const t = va / (va - vb);
        const [ax, ay] = at(a[0], a[1]);
        const [bx, by] = at(b[0], b[1]);
        const key = [a, b]
          .map((c) => c.join(','))
          .sort()
          .join('|');
        cuts.push([key, [ax + (bx - ax) * t, ay + (by - ay) * t]]);
      }
      const pair = (a: number, b: number) => segments.push([...cuts[a]!, ...cuts[b]!]);
      if (cuts.length === 2) pair(0, 1);
      else if (cuts.length === 4) {
        const middle = v.reduce((s, x) => s + x, 0) > 0;
        if (middle === v[0]! > 0) {
          pair(0, 1);
          pair(2, 3);
        } else {
          pair(3, 0);
          pair(1, 2);
        }
      }
    }
  return join(segments);
}

function join(segments: [string, [number, number], string, [number, number]][]): Polyline[] {
  const ends = new Map<string, number[]>();
  segments.forEach(([a, , b], i) => {
    for (const key of [a, b]) ends.set(key, [...(ends.get(key) ?? []), i]);
  });
  const used = new Set<number>();
  const lines: Polyline[] = [];
  const walk = (from: number, key: string, line: Polyline, add: (p: [number, number]) => void) => {
    let at = key;
    for (let next = from; next >= 0; ) {
      used.add(next);
      const [a, pa, b, pb] = segments[next]!;
      add(at === a ? pb : pa);
      at = at === a ? b : a;
      next = (ends.get(at) ?? []).find((i) => !used.has(i)) ?? -1;
    }
    return line;
  };
  segments.forEach(([a, pa], i) => {
    if (used.has(i)) return;
    const line: Polyline = [pa];
    walk(i, a, line, (p) => line.push(p));
    const back = (ends.get(a) ?? []).find((k) => !used.has(k));
    if (back !== undefined) walk(back, a, line, (p) => line.unshift(p));
    lines.push(line);
  });
  return lines;
}

import type { DrawnFormula } from '@jotmark/core';
import { drawFormula } from '@jotmark/core/formula';
import { n } from './drawing.ts';

/** What draws the formulas of words that are written into a PDF. */
export const formulas = drawFormula;

/**
 * A formula as filled outlines: its beginning stands at `x`, `y`, an em of it is `size`, in the units of what it is drawn in. Leaves
 * the graphics state as it was.
 */
export function drawOutlines({ parts }: DrawnFormula, x: number, y: number, size: number): string {
  const em = size / 1000;
  const out = [`q ${fine(em)} 0 0 ${fine(em)} ${n(x)} ${n(y)} cm`];
  for (const { d, at } of parts) out.push(`q ${at.map(fine).join(' ')} cm`, outlineOf(d), 'f Q');
  out.push('Q');
  return out.join('\n');
}

const fine = (value: number) => String(Math.round(value * 1e5) / 1e5);

/** An SVG path as the formulas' font has them (SVG 2, 9.3; M L H V C Q T Z in large and small letters) in PDF's operators; a curve of one corner becomes one of two. */
export function outlineOf(d: string): string {
  const out: string[] = [];
  let x = 0;
  let y = 0;
  let [startX, startY] = [0, 0];
  // The corner of the last curve, which a T mirrors.
  let corner: readonly [number, number] | null = null;
  const curve = (cx: number, cy: number, tx: number, ty: number) => {
    const c1 = [x + (2 / 3) * (cx - x), y + (2 / 3) * (cy - y)];
    const c2 = [tx + (2 / 3) * (cx - tx), ty + (2 / 3) * (cy - ty)];
    out.push(`${[...c1, ...c2, tx, ty].map(n).join(' ')} c`);
    corner = [cx, cy];
    [x, y] = [tx, ty];
  };
  for (const [, command, numbers] of d.matchAll(/([MLHVCQTZ])([^A-Z]*)/gi)) {
    const values = (numbers!.match(/-?\d*\.?\d+(?:e-?\d+)?/gi) ?? []).map(Number);
    const small = command! >= 'a';
    const dx = () => (small ? x : 0);
    const dy = () => (small ? y : 0);
    const to = (tx: number, ty: number, op: string) => {
      out.push(`${n(tx)} ${n(ty)} ${op}`);
      [x, y] = [tx, ty];
    };
    const before = corner as readonly [number, number] | null;
    corner = null;
    const kind = command!.toUpperCase();
    if (kind === 'Z') {
      out.push('h');
      [x, y] = [startX, startY];
      continue;
    }
    const each = { M: 2, L: 2, H: 1, V: 1, T: 2, Q: 4, C: 6 }[kind]!;
    let last = before;
    for (let i = 0; i + each <= values.length; i += each) {
      const v = values.slice(i, i + each);
      if (kind === 'H') to(v[0]! + dx(), y, 'l');
      else if (kind === 'V') to(x, v[0]! + dy(), 'l');
      else if (kind === 'L' || (kind === 'M' && i > 0)) to(v[0]! + dx(), v[1]! + dy(), 'l');
      else if (kind === 'M') {
        to(v[0]! + dx(), v[1]! + dy(), 'm');
        [startX, startY] = [x, y];
      } else if (kind === 'Q') curve(v[0]! + dx(), v[1]! + dy(), v[2]! + dx(), v[3]! + dy());
      else if (kind === 'T') {
        const [cx, cy] = last ? [2 * x - last[0], 2 * y - last[1]] : [x, y];
        curve(cx, cy, v[0]! + dx(), v[1]! + dy());
      } else {
        const [ax, ay] = [dx(), dy()];
        out.push(
          `${[v[0]! + ax, v[1]! + ay, v[2]! + ax, v[3]! + ay, v[4]! + ax, v[5]! + ay].map(n).join(' ')} c`,
        );
        [x, y] = [v[4]! + ax, v[5]! + ay];
      }
      last = corner;
    }
  }
  return out.join('\n');
}

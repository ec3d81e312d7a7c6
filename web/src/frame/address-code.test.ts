import { expect, test } from 'vitest';
import { codePath } from './AddressCode.tsx';

test('a code has dots, none of them in the room round it, and grows with what it says', () => {
  const { path, size } = codePath('https://school.example/family/abc');
  const dots = [...path.matchAll(/M(\d+) (\d+)h/g)].map((m) => [Number(m[1]), Number(m[2])] as const);
  expect(dots.length).toBeGreaterThan(100);
  for (const [x, y] of dots) {
    expect(Math.min(x, y)).toBeGreaterThanOrEqual(4);
    expect(Math.max(x, y)).toBeLessThan(size - 4);
  }
  expect(codePath('x'.repeat(200)).size).toBeGreaterThan(size);
});

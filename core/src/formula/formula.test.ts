import { expect, test } from 'vitest';
import { drawFormula } from './formula.ts';

const drawn = (tex: string) => {
  const formula = drawFormula(tex);
  if (!formula.ok) throw new Error(formula.reason);
  return formula;
};

test('a fraction is two digits and the line between them, one above the other', () => {
  const { parts, width, above, below } = drawn('\\frac{1}{2}');
  expect(parts).toHaveLength(3);
  const [one, two, line] = parts.map((p) => p.at[5]);
  expect(one!).toBeGreaterThan(line!);
  expect(two!).toBeLessThan(line!);
  expect(width).toBeGreaterThan(0.5);
  expect(above + below).toBeGreaterThan(1);
});

test.each(['x^2 + \\sqrt{y}', '\\left(\\sum_{i=1}^{n} a_i\\right)', 'a \\le b \\ne \\pi', '45^{\\circ}'])(
  '%s is drawn',
  (tex) => {
    const { parts } = drawn(tex);
    expect(parts.length).toBeGreaterThan(2);
    for (const { d, at } of parts) {
      expect(d).toMatch(/^M/);
      expect(at.every(Number.isFinite)).toBe(true);
    }
  },
);

test.each([['\\bad'], ['\\frac{1'], ['\\text{好}'], ['\\href{javascript:x}{y}'], ['\\def\\a{\\a\\a}\\a']])(
  '%s is none, and says why',
  (tex) => {
    expect(drawFormula(tex)).toMatchObject({ ok: false, reason: expect.stringMatching(/./) });
  },
);

test('the same is drawn once', () => {
  expect(drawFormula('x')).toBe(drawFormula('x'));
});

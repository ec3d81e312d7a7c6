import { expect, test } from 'vitest';
import { clampZoom, fitZoom } from './zoom.ts';

const a4 = {
  frame: { crop: [0, 0, 595, 842] as [number, number, number, number], rotate: 0 as const, userUnit: 1 },
  turn: 0 as const,
};

test('fit the width uses the room, fit the page also its height', () => {
  expect(fitZoom('width', [a4], 595, 400)).toBeCloseTo(1);
  expect(fitZoom('page', [a4], 595, 421)).toBeCloseTo(0.5);
});

test('a turned page is as wide as it is shown', () => {
  expect(fitZoom('width', [{ ...a4, turn: 90 }], 842, 400)).toBeCloseTo(1);
  expect(fitZoom('width', [a4, { ...a4, turn: 90 }], 842, 400)).toBeCloseTo(1);
});

test('stays within what can be read and drawn', () => {
  expect([clampZoom(99), clampZoom(0.001)]).toEqual([6, 0.2]);
  expect(fitZoom('width', [a4], 99_999, 999)).toBe(2.2);
});

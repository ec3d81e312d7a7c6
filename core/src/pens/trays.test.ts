import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { TrayId } from '../ids/id.ts';
import { type StampLook, stampName } from '../stamps/look.ts';
import { stampParts } from '../stamps/shape.ts';
import { Pen } from './pen.ts';
import { HAND_TOOLS, PEN_KEYS, starterTrays, Trays, trayOut } from './trays.ts';

let n = 1;
const starter = starterTrays(() => testId<TrayId>(n++));

describe('trays', () => {
  test('who begins has one for writing and one for numbers, with a key for every pen', () => {
    expect(Trays.parse(starter)).toEqual(starter);
    expect(starter.trays.map((t) => t.name)).toEqual(['writing', 'numbers']);
    for (const tray of starter.trays) expect(tray.pens.length).toBeLessThanOrEqual(PEN_KEYS.length);
    expect(new Set([...PEN_KEYS, ...HAND_TOOLS.map((t) => t.key)]).size).toBe(
      PEN_KEYS.length + HAND_TOOLS.length,
    );
  });

  test('a tray that is not there gives the first', () => {
    expect(trayOut({ ...starter, out: 1 }).name).toBe('numbers');
    expect(trayOut({ ...starter, out: 7 }).name).toBe('writing');
  });

  test('pens are bounded: a name, a width that can be drawn, points that can be earned', () => {
    const ink = { tool: 'ink', name: 'fine', colour: 'garnet', focus: null, width: 2 };
    expect(Pen.safeParse(ink).success).toBe(true);
    for (const wrong of [
      { name: ' ' },
      { width: 0 },
      { width: Number.NaN },
      { colour: 'pink' },
      { focus: '' },
    ])
      expect(Pen.safeParse({ ...ink, ...wrong }).success, JSON.stringify(wrong)).toBe(false);
  });

  test('a stamp of one’s own is a drawing or a PNG, small enough to go with every mark', () => {
    const look = (of: unknown) =>
      Pen.safeParse({
        tool: 'stamp',
        name: 'own',
        colour: 'garnet',
        focus: null,
        width: 20,
        points: null,
        look: of,
      }).success;
    const drawn: StampLook = { of: 'drawn', name: 'owl', strokes: [[0, 0, 1000, 500]] };
    expect(look(drawn)).toBe(true);
    expect(look({ ...drawn, strokes: [[0, 0, 1001, 5]] })).toBe(false);
    expect(look({ ...drawn, strokes: [[0, 0, 5]] })).toBe(false);
    expect(look({ of: 'picture', name: 'owl', png: 'PHN2Zz4=' })).toBe(false);
    expect(look({ of: 'picture', name: 'owl', png: `iVBORw0KGgo${'A'.repeat(30_000)}` })).toBe(false);
    expect(stampParts(drawn)).toEqual([
      {
        filled: false,
        points: [
          [0, 0],
          [1, 0.5],
        ],
      },
    ]);
    expect([stampName(drawn), stampName({ of: 'sign', sign: 'half' })]).toEqual(['owl', 'half right']);
  });
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fromPdf, pageSize, quarterTurn, toPage, toPdf, toScreen, viewSize } from './page-space.ts';

const coordinate = fc.double({ min: -2000, max: 2000, noNaN: true });
const turn = fc.constantFrom(0, 90, 180, 270) as fc.Arbitrary<0 | 90 | 180 | 270>;

describe('page space', () => {
  test('a point a hand down and two to the right lies where PDF says, also when the page does not start at 0,0', () => {
    const frame = {
      crop: [-20, 100, 580, 900] as [number, number, number, number],
      rotate: 90 as const,
      userUnit: 1,
    };
    expect(pageSize(frame)).toEqual([600, 800]);
    expect(toPdf(frame, [0, 0])).toEqual([-20, 900]);
    expect(toPdf(frame, [72, 36])).toEqual([52, 864]);
  });

  test('a user unit of 2 makes every length twice as long', () => {
    const frame = {
      crop: [0, 0, 300, 400] as [number, number, number, number],
      rotate: 0 as const,
      userUnit: 2,
    };
    expect(pageSize(frame)).toEqual([600, 800]);
    expect(toPdf(frame, [100, 100])).toEqual([50, 350]);
  });

  test('turned clockwise by 90 the top left corner is shown at the top right', () => {
    const view = { width: 600, height: 800, turn: 90 as const, zoom: 0.5 };
    expect(viewSize(view)).toEqual([400, 300]);
    expect(toScreen(view, [0, 0])).toEqual([400, 0]);
    expect(toScreen(view, [600, 0])).toEqual([400, 300]);
    expect(toScreen({ ...view, turn: 270 }, [0, 0])).toEqual([0, 300]);
    expect(toScreen({ ...view, turn: 180 }, [0, 0])).toEqual([300, 400]);
  });

  test('to the screen and back is where it was, for every turn and zoom', () => {
    fc.assert(
      fc.property(
        coordinate,
        coordinate,
        turn,
        fc.double({ min: 0.1, max: 8, noNaN: true }),
        (x, y, t, zoom) => {
          const view = { width: 595, height: 842, turn: t, zoom };
          const [bx, by] = toPage(view, toScreen(view, [x, y]));
          expect(bx).toBeCloseTo(x, 6);
          expect(by).toBeCloseTo(y, 6);
        },
      ),
      { seed: 20261125 },
    );
  });

  test('to PDF and back is where it was, for any boxes and unit', () => {
    fc.assert(
      fc.property(
        coordinate,
        coordinate,
        coordinate,
        coordinate,
        fc.double({ min: 0.5, max: 10, noNaN: true }),
        (x, y, cx, cy, userUnit) => {
          const frame = {
            crop: [cx, cy, cx + 500, cy + 700] as [number, number, number, number],
            rotate: 0 as const,
            userUnit,
          };
          const [bx, by] = fromPdf(frame, toPdf(frame, [x, y]));
          expect(bx).toBeCloseTo(x, 6);
          expect(by).toBeCloseTo(y, 6);
        },
      ),
      { seed: 20261125 },
    );
  });

  test('odd rotations fall on a quarter turn', () => {
    expect([0, 90, -90, 450, 720, 100].map(quarterTurn)).toEqual([0, 90, 270, 90, 0, 90]);
  });
});

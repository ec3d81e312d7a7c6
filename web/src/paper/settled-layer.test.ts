import { type DocumentId, type HighlightMark, type Mark, type MarkId, makeId } from '@jotmark/core';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { SettledLayer } from './settled-layer.ts';

let tick = 1;
const id = <T extends string>() => makeId(tick++, new Uint8Array(10).fill(tick % 250)) as T;
const document_ = id<DocumentId>();
const stroke = (x: number): Mark => ({
  v: 2,
  id: id<MarkId>(),
  document: document_,
  page: 0,
  colour: 'garnet',
  focus: null,
  madeAt: 1,
  kind: 'ink',
  points: [x * 100, 1000, 128, x * 100 + 500, 1500, 128],
  width: 1,
});
const strokes = (n: number) => Array.from({ length: n }, (_, i) => stroke(10 + (i % 50) * 10));
const band = (): HighlightMark => ({
  v: 2,
  id: id<MarkId>(),
  document: document_,
  page: 0,
  colour: 'amber',
  focus: null,
  madeAt: 1,
  kind: 'highlight',
  place: {
    on: 'passage',
    bands: [[10, 10, 50, 20]],
    quote: { exact: 'hill', before: '', after: '', start: 0 } as never,
  },
});
const view = (zoom: number) => ({ width: 600, height: 800, turn: 0 as const, zoom });

/** What was painted on a canvas since it was emptied. */
class Canvas {
  hidden = false;
  #width = 0;
  height = 0;
  fills = 0;
  cleared = 0;
  taken = 0;
  get width() {
    return this.#width;
  }
  set width(to: number) {
    this.#width = to;
    this.fills = 0;
    this.taken = 0;
  }
  getContext() {
    const own: Record<string, unknown> = {
      canvas: this,
      fill: () => this.fills++,
      clearRect: () => this.cleared++,
      drawImage: (picture: { fills: number }) => {
        this.taken = picture.fills;
      },
    };
    return new Proxy(own, { get: (on, name: string) => on[name] ?? (() => {}), set: () => true });
  }
  transferToImageBitmap() {
    return { fills: this.fills, close() {} };
  }
}

let frames: (() => void)[];
/** Runs frame after frame until nothing is left to do; gives how many there were. */
function run(most = 100): number {
  let n = 0;
  for (; frames.length && n < most; n++) frames.shift()!();
  return n;
}

beforeEach(() => {
  frames = [];
  vi.stubGlobal('requestAnimationFrame', (work: () => void) => frames.push(work));
  vi.stubGlobal('cancelAnimationFrame', () => {
    frames = [];
  });
  vi.stubGlobal('OffscreenCanvas', Canvas);
  vi.stubGlobal(
    'Path2D',
    class {
      moveTo() {}
      lineTo() {}
      closePath() {}
      rect() {}
    },
  );
});
afterEach(() => vi.unstubAllGlobals());

function layer() {
  const ink = new Canvas();
  const wash = new Canvas();
  const settled = new SettledLayer(ink as never, wash as never);
  return {
    ink,
    wash,
    show: (marks: readonly Mark[], zoom = 1) => settled.show(marks, view(zoom), 1),
    settled,
  };
}

describe('settled marks', () => {
  test('a few are painted at once; a canvas without any has no pixels and is not shown', () => {
    const { ink, wash, show } = layer();
    const marks = strokes(20);
    show(marks);
    expect([ink.fills, ink.width, ink.hidden]).toEqual([20, 600, false]);
    expect([wash.fills, wash.width, wash.hidden]).toEqual([0, 1, true]);
    const other = layer();
    other.show([band()]);
    expect(other.ink.hidden).toBe(true);
    show([...marks, band()]);
    expect([wash.fills, wash.width, wash.hidden]).toEqual([1, 600, false]);
  });

  test('one that comes is painted on top; where one goes only that part is painted again', () => {
    const { ink, show } = layer();
    const marks = strokes(20);
    show(marks);
    show([...marks, stroke(300)]);
    expect([ink.fills, ink.cleared]).toEqual([21, 0]);
    show(marks);
    expect(ink.cleared).toBe(1);
    // Two of the twenty lie by the one that went.
    expect(ink.fills - 21).toBeLessThan(5);
  });

  test('a highlight that moves is painted once where it lies now, also where it lay', () => {
    const { wash, show } = layer();
    const one = band();
    show([one]);
    const place = { ...one.place, bands: [[20, 10, 60, 20]] } as HighlightMark['place'];
    const moved = { ...one, place };
    show([moved]);
    // Once for each part that was emptied before, never on top of itself.
    expect(wash.fills - 1).toBe(wash.cleared);
    // When as many change as that, all is painted anew.
    const many = strokes(1100);
    show([moved, ...many]);
    run();
    const cleared = wash.cleared;
    show([moved]);
    expect([wash.cleared, wash.fills]).toEqual([cleared, 1]);
  });

  test('thousands come from frame to frame, and one that comes meanwhile is among them', () => {
    const { ink, show } = layer();
    const marks = strokes(2000);
    show(marks);
    expect(ink.fills).toBe(0);
    run(2);
    show([...marks, stroke(300)]);
    run();
    expect(ink.fills).toBe(2001);
    expect(frames).toHaveLength(0);
  });

  test('at another zoom the finished picture stays in sight until the new one is', () => {
    const { ink, show } = layer();
    const marks = strokes(2000);
    show(marks);
    run();
    show(marks, 2);
    run(3);
    expect([ink.fills, ink.width]).toEqual([2000, 600]);
    // A stroke that settles meanwhile is seen at once, and is in the new picture too.
    const more = [...marks, stroke(300)];
    show(more, 2);
    expect(ink.fills).toBe(2001);
    run();
    expect([ink.taken, ink.width]).toEqual([2001, 1200]);
    // One that goes meanwhile is not.
    show(more, 1);
    run(2);
    show(marks, 1);
    run();
    expect([ink.taken, ink.width]).toEqual([2000, 600]);
  });

  test('a page that is put away is painted no more, and anew when it comes back', () => {
    const { ink, show, settled } = layer();
    const marks = strokes(2000);
    show(marks);
    run(1);
    settled.stop();
    expect(run()).toBe(0);
    show(marks);
    run();
    expect(Math.max(ink.fills, ink.taken)).toBe(2000);
  });
});

import {
  type DocumentId,
  type HighlightMark,
  type InkMark,
  type Mark,
  type MarkId,
  makeId,
  type NoteMark,
  type PageText,
  type Pen,
  quoteOf,
} from '@jotmark/core';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { LiveLayer } from './live.ts';
import { type Exchange, Pad, type PadHost, type PadPage } from './pad.ts';

let tick = 1;
const id = <T extends string>() => makeId(tick++, new Uint8Array(10).fill(tick % 250)) as T;
const document_ = id<DocumentId>();

const text: PageText = {
  words: ['The', 'hill', 'is', 'steep'].map((t, i) => ({
    text: t,
    box: [100 + i * 50, 100, 140 + i * 50, 112] as const,
  })),
  lines: [{ from: 0, to: 4, box: [100, 99, 290, 113], along: 'x' }],
};
const page: PadPage = {
  document: document_,
  page: 0,
  view: { width: 600, height: 800, turn: 0, zoom: 1 },
  text,
};

const PENS: Record<string, Pen> = {
  ink: { tool: 'ink', name: 'fine', colour: 'garnet', width: 2, focus: null },
  highlight: { tool: 'highlight', name: 'method', colour: 'amber', width: 11, focus: 'method' },
  note: { tool: 'note', name: 'accuracy', colour: 'garnet', focus: 'accuracy' },
  line: { tool: 'line', name: 'line', colour: 'lake', width: 2, focus: null },
  box: { tool: 'box', name: 'box', colour: 'lake', width: 2, focus: null },
  text: { tool: 'text', name: 'on page', colour: 'garnet', width: 13, focus: null },
  tick: {
    tool: 'stamp',
    name: 'right',
    colour: 'garnet',
    width: 20,
    focus: null,
    look: { of: 'sign', sign: 'tick' },
    points: 100,
  },
  cut: { tool: 'cut', name: 'cut', colour: 'lake', focus: 'wording' },
  swap: { tool: 'swap', name: 'swap', colour: 'lake', focus: 'wording' },
  add: { tool: 'add', name: 'add', colour: 'lake', focus: 'wording' },
  eraser: { tool: 'eraser', name: 'rub out', part: false },
  part: { tool: 'eraser', name: 'a part', part: true },
  hand: { tool: 'hand', name: 'hand' },
  lasso: { tool: 'lasso', name: 'gather' },
};

let scroller: HTMLElement;
let paper: HTMLElement;
let pad: Pad;
let pen: Pen;
let marks: Mark[];
let picked: Mark[];
let heard: { [K in keyof PadHost]: ReturnType<typeof vi.fn> };

beforeEach(() => {
  document.body.innerHTML =
    '<div id="s" data-scroller><div id="p"></div><aside data-own-pointer id="m"></aside></div>';
  scroller = document.getElementById('s')!;
  paper = document.getElementById('p')!;
  paper.dataset.document = document_;
  paper.dataset.page = '0';
  scroller.setPointerCapture = () => {};
  scroller.scrollBy = vi.fn() as typeof scroller.scrollBy;
  paper.getBoundingClientRect = () => new DOMRect(0, 0, 600, 800);
  document.elementFromPoint = () => paper;
  marks = [];
  picked = [];
  pen = PENS.ink!;
  heard = {
    pen: vi.fn(() => pen),
    page: vi.fn(() => page),
    marksOn: vi.fn(() => marks),
    newMarkId: vi.fn(() => id<MarkId>()),
    now: vi.fn(() => 5),
    make: vi.fn(),
    picked: vi.fn(() => picked),
    cannot: vi.fn(),
    rubOut: vi.fn(({ gone, come }: Exchange) => {
      marks = [...marks.filter((m) => !gone.includes(m)), ...come];
    }),
    drag: vi.fn(),
    move: vi.fn(),
    select: vi.fn(),
    zoomBy: vi.fn(),
  };
  const live = new Proxy({}, { get: () => vi.fn() }) as LiveLayer;
  pad = new Pad(scroller, live, Object.assign(heard, { makesExact: true }) as unknown as PadHost);
});
afterEach(() => pad.close());

let clock = 1000;
/** jsdom's own pointer events know neither pressure nor coalesced events; these carry what a browser's do. */
function fire(
  type: string,
  x: number,
  y: number,
  over: Record<string, unknown> = {},
  target: HTMLElement = paper,
): void {
  const event = new MouseEvent(type, {
    bubbles: true,
    cancelable: true,
    clientX: x,
    clientY: y,
    button: (over.button as number) ?? 0,
    buttons: (over.buttons as number) ?? 1,
    shiftKey: over.shiftKey === true,
  });
  clock += 8;
  const { button: _, buttons: __, shiftKey: ___, ...rest } = over;
  for (const [key, value] of Object.entries({
    pointerId: 1,
    pointerType: 'mouse',
    pressure: 0.5,
    timeStamp: clock,
    ...rest,
  }))
    Object.defineProperty(event, key, { value });
  target.dispatchEvent(event);
}

function stroke(points: readonly (readonly [number, number])[], over: Record<string, unknown> = {}): void {
  fire('pointerdown', ...points[0]!, over);
  for (const p of points.slice(1)) fire('pointermove', ...p, over);
  fire('pointerup', ...points.at(-1)!, { ...over, buttons: 0 });
}

const made = <M extends Mark>() => heard.make.mock.calls[0]![0] as M;

describe('the pad', () => {
  test('the pen writes, with its pressure at every sample', () => {
    const points = [
      [10, 10],
      [20, 14],
      [30, 18],
    ] as const;
    fire('pointerdown', ...points[0], { pointerType: 'pen', pressure: 0.25 });
    fire('pointermove', ...points[1], { pointerType: 'pen', pressure: 0.5 });
    fire('pointermove', ...points[2], { pointerType: 'pen', pressure: 1 });
    fire('pointerup', ...points[2], { pointerType: 'pen', pressure: 0, buttons: 0 });
    expect(made<InkMark>()).toMatchObject({
      kind: 'ink',
      colour: 'garnet',
      width: 2,
      page: 0,
      madeAt: 5,
      points: [1000, 1000, 64, 2000, 1400, 128, 3000, 1800, 255],
    });
  });

  test('a tab that is closed in the middle of a stroke leaves it as far as it came, once', () => {
    fire('pointerdown', 10, 10, { pointerType: 'pen' });
    fire('pointermove', 20, 14, { pointerType: 'pen' });
    window.dispatchEvent(new Event('pagehide'));
    expect(made<InkMark>()).toMatchObject({ kind: 'ink', points: [1000, 1000, 128, 2000, 1400, 128] });
    fire('pointerup', 30, 18, { pointerType: 'pen', buttons: 0 });
    window.dispatchEvent(new Event('pagehide'));
    expect(heard.make).toHaveBeenCalledTimes(1);
  });

  test('a stroke that takes long is kept safe as it is drawn, under the id it will have, until it settles', () => {
    vi.useFakeTimers();
    const safe: (Mark | null)[] = [];
    (heard as unknown as PadHost).keepSafe = (mark) => void safe.push(mark && structuredClone(mark));
    fire('pointerdown', 10, 10, { pointerType: 'pen' });
    vi.advanceTimersByTime(230);
    fire('pointermove', 20, 14, { pointerType: 'pen' });
    vi.advanceTimersByTime(230);
    fire('pointerup', 20, 14, { pointerType: 'pen', buttons: 0 });
    vi.advanceTimersByTime(1000);
    vi.useRealTimers();
    expect(safe.map((m) => m && (m as InkMark).points.length)).toEqual([3, 6, null]);
    expect(safe.slice(0, 2).map((m) => m?.id)).toEqual([made().id, made().id]);
  });

  test('the mouse writes evenly', () => {
    stroke([
      [10, 10],
      [20, 10],
    ]);
    expect(made<InkMark>().points).toEqual([1000, 1000, 128, 2000, 1000, 128]);
  });

  test('a stroke that the system cuts off is kept as far as it came', () => {
    fire('pointerdown', 10, 10);
    fire('pointermove', 40, 10);
    fire('pointercancel', 400, 400);
    expect(made<InkMark>().points.slice(-3)).toEqual([4000, 1000, 128]);
  });

  test('a highlighter that starts on words takes whole words, elsewhere it draws freely', () => {
    pen = PENS.highlight!;
    stroke([
      [160, 105],
      [180, 106],
      [215, 107],
    ]);
    expect(made<HighlightMark>()).toMatchObject({
      kind: 'highlight',
      focus: 'method',
      place: { on: 'passage', quote: quoteOf(text, { from: 1, to: 2 }) },
    });
    heard.make.mockClear();
    stroke([
      [160, 400],
      [180, 400],
      [215, 400],
    ]);
    expect(made<HighlightMark>()).toMatchObject({ place: { on: 'free', width: 11 } });
  });

  test('a note pen pins a note to a spot by a tap and to a passage by a drag', () => {
    pen = PENS.note!;
    stroke([[300, 300]]);
    expect(made<NoteMark>()).toMatchObject({
      kind: 'note',
      words: '',
      place: { on: 'spot', x: 300, y: 300 },
    });
    heard.make.mockClear();
    stroke([
      [110, 105],
      [200, 105],
      [265, 105],
    ]);
    expect(made<NoteMark>().place).toMatchObject({ on: 'passage', quote: { exact: 'The hill is steep' } });
  });

  test('a tap of the note pen on a note opens that one', () => {
    const there: NoteMark = {
      v: 2,
      id: id<MarkId>(),
      document: document_,
      page: 0,
      colour: 'lake',
      focus: null,
      madeAt: 1,
      kind: 'note',
      place: { on: 'spot', x: 300, y: 300 },
      words: 'x',
    };
    marks = [there];
    pen = PENS.note!;
    stroke([[302, 301]]);
    expect(heard.make).not.toHaveBeenCalled();
    expect(heard.select).toHaveBeenCalledWith([there], { edit: true, add: false });
  });

  const line = (x: number): InkMark => ({
    v: 2,
    id: id<MarkId>(),
    document: document_,
    page: 0,
    colour: 'garnet',
    focus: null,
    madeAt: 1,
    kind: 'ink',
    points: [x * 100, 20000, 128, x * 100, 30000, 128],
    width: 2,
  });

  test('the eraser, or the pen’s other end, rubs out what it crosses in one sweep', () => {
    marks = [line(100), line(200)];
    pen = PENS.eraser!;
    stroke([
      [90, 250],
      [100, 250],
      [150, 250],
      [200, 250],
    ]);
    expect(heard.rubOut.mock.calls.map(([{ gone }]) => gone[0].points[0])).toEqual([10000, 20000]);
    expect(new Set(heard.rubOut.mock.calls.map(([, sweep]) => sweep)).size).toBe(1);
    heard.rubOut.mockClear();
    marks = [line(100)];
    pen = PENS.ink!;
    stroke(
      [
        [100, 250],
        [101, 251],
      ],
      { pointerType: 'pen', button: 5, buttons: 32 },
    );
    expect(heard.rubOut).toHaveBeenCalled();
    expect(heard.make).not.toHaveBeenCalled();
  });

  test('the hand picks and moves a mark, and drags the paper where there is none', () => {
    const mark = line(100);
    marks = [mark];
    pen = PENS.hand!;
    stroke([
      [100, 250],
      [120, 260],
      [130, 270],
    ]);
    expect(heard.select).toHaveBeenCalledWith([mark], { edit: false, add: false });
    const [[before], [after]] = heard.move.mock.calls[0]!;
    expect([before, after.points]).toEqual([mark, [13000, 22000, 128, 13000, 32000, 128]]);
    heard.move.mockClear();
    stroke([
      [400, 500],
      [390, 480],
    ]);
    expect(heard.move).not.toHaveBeenCalled();
    expect(scroller.scrollBy).toHaveBeenCalledWith(10, 20);
  });

  test('what is picked is dragged together, and Shift picks one more', () => {
    marks = [line(100), line(200)];
    picked = [...marks];
    pen = PENS.hand!;
    stroke([
      [100, 250],
      [110, 250],
    ]);
    expect(heard.select).not.toHaveBeenCalled();
    const [before, after] = heard.move.mock.calls[0]!;
    expect(before).toEqual(marks);
    expect(after.map((m: InkMark) => m.points[0])).toEqual([11000, 21000]);
    picked = [];
    stroke([[200, 250]], { shiftKey: true });
    expect(heard.select).toHaveBeenCalledWith([marks[1]], { edit: false, add: true });
  });

  test('what is gathered is what the loop was drawn round', () => {
    marks = [line(100), line(200)];
    pen = PENS.lasso!;
    stroke([
      [50, 150],
      [150, 150],
      [150, 350],
      [50, 350],
    ]);
    expect(heard.select).toHaveBeenCalledWith([marks[0]], { edit: false, add: false });
  });

  test('the part eraser leaves two true strokes, and cuts what it left in the same sweep', () => {
    marks = [line(100)];
    const shown = [...marks];
    heard.marksOn = vi.fn(() => shown);
    pen = PENS.part!;
    stroke([
      [60, 230],
      [100, 230],
      [60, 230],
      [60, 270],
      [100, 270],
    ]);
    const calls = heard.rubOut.mock.calls.map(([what]) => what as Exchange);
    expect(calls.map((c) => [c.gone.length, c.come.length])).toEqual([
      [1, 2],
      [1, 2],
    ]);
    expect(calls[1]!.gone[0]).toBe(calls[0]!.come[1]);
    expect(marks).toHaveLength(3);
    expect(new Set(heard.rubOut.mock.calls.map(([, sweep]) => sweep)).size).toBe(1);
  });

  test('a stroke is straight while Shift is held', () => {
    fire('pointerdown', 10, 10);
    fire('pointermove', 30, 50);
    fire('pointermove', 60, 20, { shiftKey: true });
    fire('pointerup', 60, 20, { shiftKey: true, buttons: 0 });
    expect(made<InkMark>().points).toEqual([1000, 1000, 128, 6000, 2000, 128]);
  });

  test('a line drawn by hand and held still at its end becomes exact', () => {
    vi.useFakeTimers();
    fire('pointerdown', 10, 10);
    fire('pointermove', 60, 12);
    fire('pointermove', 110, 10);
    vi.advanceTimersByTime(600);
    fire('pointerup', 110, 10, { buttons: 0 });
    vi.useRealTimers();
    expect(made()).toMatchObject({ kind: 'line', from: [10, 10], to: [110, 10], colour: 'garnet' });
  });

  test('a line goes from where it began to where it ends, and a box between its corners', () => {
    pen = PENS.line!;
    stroke([
      [10, 10],
      [50, 40],
    ]);
    expect(made()).toMatchObject({ kind: 'line', from: [10, 10], to: [50, 40], width: 2 });
    heard.make.mockClear();
    pen = PENS.box!;
    stroke([
      [90, 80],
      [40, 20],
    ]);
    expect(made()).toMatchObject({ kind: 'box', box: [40, 20, 90, 80] });
    heard.make.mockClear();
    stroke([[90, 80]]);
    expect(heard.make).not.toHaveBeenCalled();
  });

  test('a stamp is one tap, with its points', () => {
    pen = PENS.tick!;
    stroke([[300, 300]]);
    expect(made()).toMatchObject({ kind: 'stamp', x: 300, y: 300, size: 20, points: 100, turn: 0 });
  });

  test('cut and swap take words, add a gap between two; where there are none the host hears of it', () => {
    for (const [tool, x0, x1] of [
      ['cut', 160, 175],
      ['swap', 160, 215],
    ] as const) {
      pen = PENS[tool]!;
      heard.make.mockClear();
      stroke([
        [x0, 105],
        [x1, 105],
      ]);
      expect(made()).toMatchObject({
        kind: tool,
        place: { quote: { exact: tool === 'cut' ? 'hill' : 'hill is' } },
      });
    }
    heard.make.mockClear();
    pen = PENS.add!;
    stroke([[188, 105]]);
    expect(made()).toMatchObject({
      kind: 'add',
      words: '',
      place: { on: 'caret', side: 'after', x: 195, quote: { exact: 'hill' } },
    });
    heard.make.mockClear();
    stroke([[300, 600]]);
    expect(heard.make).not.toHaveBeenCalled();
    expect(heard.cannot).toHaveBeenCalledWith(pen);
  });

  test('words on the page begin with a tap, as wide as a drag', () => {
    pen = PENS.text!;
    stroke([[300, 300]]);
    expect(made()).toMatchObject({ kind: 'text', x: 300, y: 300, w: 190, size: 13, words: '' });
    heard.make.mockClear();
    stroke([
      [300, 300],
      [400, 320],
    ]);
    expect(made()).toMatchObject({ w: 100 });
  });

  test('the button on the barrel lends the hand', () => {
    const mark = line(100);
    marks = [mark];
    stroke([[100, 250]], { pointerType: 'pen', button: 2, buttons: 2 });
    expect(heard.select).toHaveBeenCalledWith([mark], { edit: false, add: false });
    expect(heard.make).not.toHaveBeenCalled();
  });

  test('a finger moves the paper; the palm beside a writing pen does nothing', () => {
    const finger = { pointerType: 'touch', pointerId: 7 };
    stroke(
      [
        [300, 400],
        [300, 380],
        [300, 350],
      ],
      finger,
    );
    expect(heard.make).not.toHaveBeenCalled();
    expect(scroller.scrollBy).toHaveBeenCalled();
    (scroller.scrollBy as unknown as ReturnType<typeof vi.fn>).mockClear();
    stroke(
      [
        [10, 10],
        [20, 10],
      ],
      { pointerType: 'pen' },
    );
    stroke(
      [
        [300, 400],
        [300, 380],
        [300, 350],
      ],
      finger,
    );
    expect(scroller.scrollBy).not.toHaveBeenCalled();
    expect(heard.make).toHaveBeenCalledTimes(1);
  });

  test('two fingers apart make the paper larger', () => {
    fire('pointerdown', 200, 400, { pointerType: 'touch', pointerId: 7 });
    fire('pointerdown', 300, 400, { pointerType: 'touch', pointerId: 8 });
    fire('pointermove', 190, 400, { pointerType: 'touch', pointerId: 7 });
    fire('pointermove', 320, 400, { pointerType: 'touch', pointerId: 8 });
    const factors = heard.zoomBy.mock.calls.map(([f]) => f as number);
    expect(factors.reduce((a, b) => a * b, 1)).toBeCloseTo(1.3, 1);
  });

  test('Ctrl and the wheel zoom at the pointer; the wheel alone is the browser’s', () => {
    const wheel = (ctrlKey: boolean) => {
      const e = new WheelEvent('wheel', {
        bubbles: true,
        cancelable: true,
        ctrlKey,
        deltaY: -50,
        clientX: 40,
        clientY: 60,
      });
      scroller.dispatchEvent(e);
      return e.defaultPrevented;
    };
    expect([wheel(false), wheel(true)]).toEqual([false, true]);
    expect(heard.zoomBy).toHaveBeenCalledExactlyOnceWith(expect.closeTo(1.284, 2), 40, 60);
  });

  test('what happens in the margin is the margin’s', () => {
    fire('pointerdown', 620, 100, {}, document.getElementById('m')!);
    fire('pointerup', 620, 100, { buttons: 0 }, document.getElementById('m')!);
    expect(heard.make).not.toHaveBeenCalled();
    expect(heard.page).not.toHaveBeenCalled();
  });
});

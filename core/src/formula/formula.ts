import type { LiteElement, LiteNode } from 'mathjax-full/js/adaptors/lite/Element.js';
import { liteAdaptor } from 'mathjax-full/js/adaptors/liteAdaptor.js';
import { RegisterHTMLHandler } from 'mathjax-full/js/handlers/html.js';
import { TeX } from 'mathjax-full/js/input/tex.js';
import 'mathjax-full/js/input/tex/ams/AmsConfiguration.js';
import { mathjax } from 'mathjax-full/js/mathjax.js';
import { SVG } from 'mathjax-full/js/output/svg.js';

/** Six numbers as in a PDF's `cm`: x' = ax + cy + e, y' = bx + dy + f. */
export type Matrix = readonly [number, number, number, number, number, number];

/** An outline to be filled, as an SVG path, and where it stands. */
export interface FormulaPart {
  readonly d: string;
  readonly at: Matrix;
}

export type Formula =
  | {
      readonly ok: true;
      /** In em: how wide, how far above and below the line of the words round it. */
      readonly width: number;
      readonly above: number;
      readonly below: number;
      /** In thousandths of an em; x to the right, y up, from where it begins on the line. */
      readonly parts: readonly FormulaPart[];
    }
  /** What was typed is no formula: why. */
  | { readonly ok: false; readonly reason: string };

const adaptor = liteAdaptor();
interface Page {
  convert(tex: string, options: { display: boolean }): unknown;
}
let page: Page | null = null;

function open(): Page {
  if (page) return page;
  RegisterHTMLHandler(adaptor);
  const opened: Page = mathjax.document('', {
    // Nothing that loads, defines without end or leads away: only how formulas are written.
    InputJax: new TeX({ packages: ['base', 'ams'], maxMacros: 200, maxBuffer: 4096 }),
    OutputJax: new SVG({ fontCache: 'none' }),
  });
  page = opened;
  return opened;
}

const known = new Map<string, Formula>();
const MOST_KNOWN = 500;

/** A formula as outlines, the same for the screen and for a PDF: TeX as it is typed between dollar signs. Never throws; what is no formula is told. */
export function drawFormula(tex: string): Formula {
  const before = known.get(tex);
  if (before) return before;
  if (known.size >= MOST_KNOWN) known.clear();
  const formula = draw(tex);
  known.set(tex, formula);
  return formula;
}

function draw(tex: string): Formula {
  try {
    const box = open().convert(tex, { display: false }) as LiteElement;
    const svg = adaptor.firstChild(box) as LiteElement;
    const [x, y, width, height] = numbers(adaptor.getAttribute(svg, 'viewBox'));
    if (![x, y, width, height].every(Number.isFinite)) return { ok: false, reason: 'empty' };
    const parts: FormulaPart[] = [];
    for (const child of adaptor.childNodes(svg)) collect(child, [1, 0, 0, -1, 0, 0], parts);
    return { ok: true, width: width! / 1000, above: -y! / 1000, below: (height! + y!) / 1000, parts };
  } catch (error) {
    return { ok: false, reason: error instanceof Error ? error.message : String(error) };
  }
}

const numbers = (text: string | undefined): number[] =>
  (text?.match(/-?[\d.]+(?:e-?\d+)?/g) ?? []).map(Number);

const times = ([a, b, c, d, e, f]: Matrix, [g, h, i, j, k, l]: Matrix): Matrix => [
  a * g + c * h,
  b * g + d * h,
  a * i + c * j,
  b * i + d * j,
  a * k + c * l + e,
  b * k + d * l + f,
];

function transformOf(text: string | undefined): Matrix {
  let out: Matrix = [1, 0, 0, 1, 0, 0];
  for (const [, what, args] of text?.matchAll(/(\w+)\(([^)]*)\)/g) ?? []) {
    const [p = 0, q] = numbers(args);
    if (what === 'translate') out = times(out, [1, 0, 0, 1, p, q ?? 0]);
    else if (what === 'scale') out = times(out, [p, 0, 0, q ?? p, 0, 0]);
    else if (what === 'matrix') out = times(out, numbers(args) as unknown as Matrix);
  }
  return out;
}

function collect(node: LiteNode, around: Matrix, parts: FormulaPart[]): void {
  const element = node as LiteElement;
  if (!('attributes' in element)) return;
  const get = (name: string) => adaptor.getAttribute(element, name) as string | undefined;
  const why = get('data-mjx-error');
  if (why) throw new Error(why);
  const n = (name: string) => Number.parseFloat(get(name) ?? '0') || 0;
  const at = times(around, transformOf(get('transform')));
  switch (element.kind) {
    case 'path':
      parts.push({ d: get('d') ?? '', at });
      return;
    case 'rect':
      parts.push({
        d: `M${n('x')} ${n('y')}h${n('width')}v${n('height')}h${-n('width')}Z`,
        at,
      });
      return;
    case 'text':
      // A letter that the formulas' own font has not: it is no outline, so the whole stays as it was typed.
      throw new Error('a letter that no formula has');
    case 'svg': {
      const [x = 0, y = 0, w = 1, h = 1] = numbers(get('viewBox'));
      const [sx, sy] = [n('width') / w || 1, n('height') / h || 1];
      const inner = times(at, [sx, 0, 0, sy, n('x') - x * sx, n('y') - y * sy]);
      for (const child of adaptor.childNodes(element)) collect(child, inner, parts);
      return;
    }
    default:
      for (const child of adaptor.childNodes(element)) collect(child, at, parts);
  }
}

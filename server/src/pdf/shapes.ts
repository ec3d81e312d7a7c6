import type { PDFDocument } from '@cantoo/pdf-lib';
import { PDFCheckBox, PDFDropdown, PDFOptionList, PDFRadioGroup, PDFTextField } from '@cantoo/pdf-lib';
import { type Box, boxAround, type FormField, fromPdf, type PageFrame, type PageShapes } from '@jotmark/core';
import type { Engine } from './engine.ts';

const PATH = 2;
/** Thicker than this, in points, it is no rule. */
const THICKEST = 2.5;
const SHORTEST = 18;
const MOST = 2000;

/** Level rules and rectangles drawn on a page, in page space. What lies between crossing lines of a table is a rectangle too. */
export function readShapes(
  engine: Engine,
  document: number,
  index: number,
  frame: PageFrame,
): Omit<PageShapes, 'fields'> {
  const page = engine.FPDF_LoadPage(document, index);
  if (!page) return { rules: [], boxes: [] };
  const at = engine.pdfium.wasmExports.malloc(16);
  const f = (n: number) => engine.pdfium.getValue(at + n * 4, 'float') as number;
  const rules: Box[] = [];
  const uprights: Box[] = [];
  const boxes: Box[] = [];
  try {
    const count = Math.min(20_000, engine.FPDFPage_CountObjects(page));
    for (let i = 0; i < count; i++) {
      const object = engine.FPDFPage_GetObject(page, i);
      if (engine.FPDFPageObj_GetType(object) !== PATH) continue;
      // Left, bottom, right, top as floats, after the object's own matrix.
      if (!engine.FPDFPageObj_GetBounds(object, at, at + 4, at + 8, at + 12)) continue;
      const box = toBox(frame, [f(0), f(1), f(2), f(3)]);
      const w = box[2] - box[0];
      const h = box[3] - box[1];
      const corners = engine.FPDFPath_CountSegments(object);
      if (h <= THICKEST && w >= SHORTEST) rules.push(box);
      else if (w <= THICKEST && h >= 8) uprights.push(box);
      else if (w >= 4 && h >= 4 && corners >= 4 && corners <= 6) boxes.push(box);
    }
  } finally {
    engine.pdfium.wasmExports.free(at);
    engine.FPDF_ClosePage(page);
  }
  return { rules: rules.slice(0, MOST), boxes: [...boxes, ...cells(rules, uprights)].slice(0, MOST) };
}

function toBox(frame: PageFrame, [l, b, r, t]: Box): Box {
  const box = boxAround([[...fromPdf(frame, [l, t]), ...fromPdf(frame, [r, b])]])!;
  return box.map((n) => Math.round(Math.max(-20_000, Math.min(20_000, n)) * 100) / 100) as unknown as Box;
}

/** How far lines of a table may miss each other, in points. */
const NEAR = 2.5;

/** The cells of a table drawn with single lines: the smallest rectangles with a line on every side. */
function cells(rules: readonly Box[], uprights: readonly Box[]): Box[] {
  if (uprights.length === 0 || uprights.length > 400 || rules.length > 400) return [];
  const ys = distinct(rules.map((r) => (r[1] + r[3]) / 2));
  const xs = distinct(uprights.map((u) => (u[0] + u[2]) / 2));
  const level = (y: number, l: number, r: number) =>
    rules.some((x) => Math.abs((x[1] + x[3]) / 2 - y) < NEAR && x[0] <= l + NEAR && x[2] >= r - NEAR) ||
    coveredBy(
      rules.filter((x) => Math.abs((x[1] + x[3]) / 2 - y) < NEAR),
      0,
      l,
      r,
    );
  const upright = (x: number, t: number, b: number) =>
    coveredBy(
      uprights.filter((u) => Math.abs((u[0] + u[2]) / 2 - x) < NEAR),
      1,
      t,
      b,
    );
  const out: Box[] = [];
  for (let i = 0; i + 1 < ys.length && out.length < MOST; i++)
    for (let k = 0; k + 1 < xs.length; k++) {
      const [t, b, l, r] = [ys[i]!, ys[i + 1]!, xs[k]!, xs[k + 1]!];
      if (level(t, l, r) && level(b, l, r) && upright(l, t, b) && upright(r, t, b)) out.push([l, t, r, b]);
    }
  return out;
}

/** Whether pieces of one line together reach from `from` to `to`; `axis` 0 for x, 1 for y. */
function coveredBy(pieces: readonly Box[], axis: 0 | 1, from: number, to: number): boolean {
  let reached = from + NEAR;
  for (const piece of [...pieces].sort((a, b) => a[axis] - b[axis])) {
    if (piece[axis] > reached + NEAR) break;
    reached = Math.max(reached, piece[axis === 0 ? 2 : 3]!);
  }
  return reached >= to - NEAR;
}

function distinct(values: readonly number[]): number[] {
  const out: number[] = [];
  for (const v of [...values].sort((a, b) => a - b))
    if (out.length === 0 || v - out.at(-1)! > NEAR) out.push(v);
  return out;
}

/** The form fields of every page, by page. A form that cannot be read has none. */
export function readFields(pdf: PDFDocument, frames: readonly PageFrame[]): FormField[][] {
  const out: FormField[][] = frames.map(() => []);
  try {
    const pages = pdf.getPages();
    for (const field of pdf.getForm().getFields().slice(0, 500)) {
      const boxes = new Map<number, Box[]>();
      for (const widget of field.acroField.getWidgets()) {
        const { x, y, width, height } = widget.getRectangle();
        const page = Math.max(
          0,
          pages.findIndex((p) => p.ref === widget.P() || holds(p, widget.dict)),
        );
        const frame = frames[page];
        if (frame) boxes.set(page, [...(boxes.get(page) ?? []), toBox(frame, [x, y, x + width, y + height])]);
      }
      const kind = kindOfField(field);
      if (kind)
        for (const [page, on] of boxes)
          out[page]!.push({
            kind,
            name: field.getName().slice(0, 200),
            boxes: on.slice(0, 100),
            options: optionsOf(field),
          });
    }
  } catch {
    return frames.map(() => []);
  }
  return out;
}

const holds = (page: { node: unknown }, dict: unknown): boolean => {
  const annots = (
    page.node as { Annots(): { size(): number; lookup(i: number): unknown } | undefined }
  ).Annots();
  if (!annots) return false;
  for (let i = 0; i < annots.size(); i++) if (annots.lookup(i) === dict) return true;
  return false;
};

function kindOfField(field: unknown): FormField['kind'] | null {
  if (field instanceof PDFTextField) return field.isMultiline() ? 'paragraph' : 'text';
  if (field instanceof PDFRadioGroup || field instanceof PDFDropdown) return 'choice';
  if (field instanceof PDFOptionList) return 'several';
  return field instanceof PDFCheckBox ? 'several' : null;
}

function optionsOf(field: unknown): string[] {
  const options =
    field instanceof PDFRadioGroup || field instanceof PDFDropdown || field instanceof PDFOptionList
      ? field.getOptions()
      : field instanceof PDFCheckBox
        ? [field.getName()]
        : [];
  return options.map((o) => o.slice(0, 200)).slice(0, 100);
}

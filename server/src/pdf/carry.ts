import {
  PDFArray,
  type PDFContext,
  PDFDict,
  PDFDocument,
  PDFName,
  PDFNull,
  type PDFObject,
  PDFRawStream,
  PDFRef,
  PDFStream,
} from '@cantoo/pdf-lib';
import type { Box } from '@jotmark/core';
import sharp from 'sharp';
import { takeOutScripts } from './clean.ts';
import { drawPage } from './draw-page.ts';
import { openPdf, savePdf } from './pdf.ts';

/** What of another program's annotation is at most carried along. */
const MOST_OBJECTS = 800;
export const MOST_CARRIED = 290_000;
/** Pixels for a point, and at most so many on the long side. */
const SHARPNESS = 2;
const MOST_PIXELS = 600;
/** No paper under it. */
const SEE_THROUGH = 0;
/** An annotation that carries more than a carrier takes. */
export class TooMuch extends Error {}

/** Belongs to the page it came from, and is set anew where it goes. */
const OF_ITS_PAGE: ReadonlySet<string> = new Set(['P', 'StructParent']);
/** Whatever leads from an annotation to the rest of its document is left behind. */
const OF_THE_DOCUMENT: ReadonlySet<string> = new Set(['Page', 'Pages', 'Catalog', 'StructElem']);

/** Copies objects into another document, each once; entries of dictionaries in the order of their names, so that the same things always give the same bytes. */
class Copier {
  readonly #from: PDFContext;
  readonly #to: PDFContext;
  readonly #known = new Map<PDFRef, PDFRef>();
  #objects = 0;

  constructor(from: PDFContext, to: PDFContext) {
    this.#from = from;
    this.#to = to;
  }

  copy(object: PDFObject): PDFObject {
    if (++this.#objects > MOST_OBJECTS) throw new TooMuch();
    if (object instanceof PDFRef) return this.#ref(object);
    if (object instanceof PDFArray) return this.#to.obj(object.asArray().map((o) => this.copy(o) as never));
    if (object instanceof PDFDict) return this.#dict(object);
    if (object instanceof PDFStream) {
      const dict = this.#dict(object.dict);
      // Its length is said anew with its bytes.
      if (dict instanceof PDFDict) dict.delete(PDFName.of('Length'));
      const { length } = object.getContents();
      if (length > MOST_CARRIED) throw new TooMuch();
      return PDFRawStream.of(dict as PDFDict, object.getContents());
    }
    return object;
  }

  #ref(ref: PDFRef): PDFObject {
    const known = this.#known.get(ref);
    if (known) return known;
    const object = this.#from.lookup(ref);
    if (!object || isOfDocument(object)) return PDFNull;
    const to = this.#to.nextRef();
    this.#known.set(ref, to);
    this.#to.assign(to, this.copy(object));
    return to;
  }

  #dict(dict: PDFDict): PDFObject {
    if (isOfDocument(dict)) return PDFNull;
    const out = this.#to.obj({}) as PDFDict;
    const annotation = dict.get(PDFName.of('Subtype')) !== undefined && dict.has(PDFName.of('Rect'));
    const entries = [...dict.entries()].sort(([a], [b]) => (a.toString() < b.toString() ? -1 : 1));
    for (const [key, value] of entries)
      if (!annotation || !OF_ITS_PAGE.has(key.decodeText())) out.set(key, this.copy(value));
    return out;
  }
}

function isOfDocument(object: PDFObject): boolean {
  if (!(object instanceof PDFDict)) return false;
  const type = object.get(PDFName.of('Type'));
  return type instanceof PDFName && OF_THE_DOCUMENT.has(type.decodeText());
}

/**
 * Annotations with all that they need, on the one page of a PDF of its own that is as large as `rect`: so they are kept, unchanged but for the page
 * they belonged to. The first is the one it is about; the others answer to it or are its windows.
 */
export async function carryOut(
  from: PDFDocument,
  annotations: readonly PDFObject[],
  rect: Box,
): Promise<Uint8Array> {
  const to = await PDFDocument.create({ updateMetadata: false });
  const page = to.addPage([rect[2] - rect[0], rect[3] - rect[1]]);
  page.setMediaBox(rect[0], rect[1], Math.max(1, rect[2] - rect[0]), Math.max(1, rect[3] - rect[1]));
  const copier = new Copier(from.context, to.context);
  const refs = annotations.map((annotation) => {
    const copy = copier.copy(annotation);
    return copy instanceof PDFRef ? copy : to.context.register(copy);
  });
  page.node.set(PDFName.of('Annots'), to.context.obj(refs));
  takeOutScripts(to);
  const bytes = await savePdf(to);
  if (bytes.length > MOST_CARRIED) throw new TooMuch();
  return bytes;
}

/** What was carried, opened to be put on a page again. Whoever sent it: nothing that runs is in it. */
export async function openCarried(bytes: Uint8Array): Promise<PDFDocument> {
  const pdf = await openPdf(bytes);
  takeOutScripts(pdf);
  return pdf;
}

/** Puts what was carried on a page of another document; gives the annotations to add there. */
export function carryIn(carried: PDFDocument, to: PDFContext, page: PDFRef): PDFRef[] {
  const copier = new Copier(carried.context, to);
  const annotations = carried.getPage(0).node.Annots()?.asArray() ?? [];
  return annotations.flatMap((annotation) => {
    const copy = copier.copy(annotation);
    const ref = copy instanceof PDFRef ? copy : to.register(copy);
    const dict = to.lookup(ref);
    if (!(dict instanceof PDFDict)) return [];
    dict.set(PDFName.of('P'), page);
    return [ref];
  });
}

/** How it looks, as a see-through PNG that fills its rectangle; null where nothing of it is seen. */
export async function drawCarried(bytes: Uint8Array): Promise<Uint8Array | null> {
  const drawn = await drawPage(bytes, SEE_THROUGH, (w, h) =>
    Math.min(SHARPNESS, MOST_PIXELS / Math.max(w, h)),
  );
  if (!drawn?.pixels.some((v, i) => i % 4 === 3 && v !== 0)) return null;
  const { pixels, width, height } = drawn;
  return sharp(pixels, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
}

import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFHexString,
  PDFName,
  type PDFPage,
  PDFRef,
  PDFString,
} from '@cantoo/pdf-lib';
import { XMLParser } from 'fast-xml-parser';
import { nameOf, number, numbers, rectOf, textOf } from './dict.ts';

/**
 * Annotations as XFDF (ISO 19444-1), out of a PDF and into one. The kinds that both know go through; what else stands on a page is left where it is. Positions are
 * the PDF's own: default user space of each page.
 */
const NS = 'http://ns.adobe.com/xfdf/';

/** What each kind of annotation is called there. */
const ELEMENTS: Readonly<Record<string, string>> = {
  Text: 'text',
  Highlight: 'highlight',
  Underline: 'underline',
  Squiggly: 'squiggly',
  StrikeOut: 'strikeout',
  Caret: 'caret',
  Ink: 'ink',
  Line: 'line',
  Square: 'square',
  Circle: 'circle',
  FreeText: 'freetext',
  Stamp: 'stamp',
  Polygon: 'polygon',
  PolyLine: 'polyline',
};
const SUBTYPES: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries(ELEMENTS).map(([subtype, element]) => [element, subtype]),
);
const WORDED = new Set(['Highlight', 'Underline', 'Squiggly', 'StrikeOut']);

const escaped = (text: string): string =>
  [...text]
    .filter((c) => c >= ' ' || c === '\n' || c === '\t')
    .join('')
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const short = (v: number): string => String(Math.round(v * 1000) / 1000);
const listed = (all: readonly number[]): string => all.map(short).join(',');
const hex = (colour: readonly number[]): string | null =>
  colour.length === 3
    ? `#${colour
        .map((c) =>
          Math.round(Math.min(1, Math.max(0, c)) * 255)
            .toString(16)
            .padStart(2, '0'),
        )
        .join('')
        .toUpperCase()}`
    : null;

/** All annotations of a PDF as one XFDF. `ids` tells which document it is for, so that it is told from another. */
export function writeXfdf(pdf: PDFDocument, about: { readonly name: string; readonly ids: string }): string {
  const names = new Map<PDFRef, string>();
  const all = pdf.getPages().flatMap((page, index) =>
    (page.node.Annots()?.asArray() ?? []).flatMap((ref) => {
      const dict = pdf.context.lookup(ref);
      if (!(dict instanceof PDFDict) || !ELEMENTS[nameOf(dict, 'Subtype')]) return [];
      const name = textOf(dict, 'NM');
      if (ref instanceof PDFRef && name) names.set(ref, name);
      return [{ dict, index }];
    }),
  );
  const annots = all.map(({ dict, index }) => elementOf(dict, index, names)).join('\n');
  return `<?xml version="1.0" encoding="UTF-8"?>
<xfdf xmlns="${NS}" xml:space="preserve"><annots>
${annots}
</annots><f href="${escaped(about.name)}"/><ids original="${about.ids}" modified="${about.ids}"/></xfdf>
`;
}

function elementOf(dict: PDFDict, page: number, names: ReadonlyMap<PDFRef, string>): string {
  const subtype = nameOf(dict, 'Subtype');
  const element = ELEMENTS[subtype]!;
  const to = dict.get(PDFName.of('IRT'));
  const answered = to instanceof PDFRef ? names.get(to) : undefined;
  const border = dict.lookup(PDFName.of('BS'));
  const width = border instanceof PDFDict ? number(border, 'W', 1) : 1;
  const attributes: [string, string | null | undefined][] = [
    ['page', String(page)],
    ['rect', listed(rectOf(dict))],
    ['color', hex(numbers(dict, 'C'))],
    ['flags', 'print'],
    ['name', textOf(dict, 'NM') || null],
    ['title', textOf(dict, 'T') || null],
    ['subject', textOf(dict, 'Subj') || null],
    ['date', textOf(dict, 'M') || null],
    ['creationdate', textOf(dict, 'CreationDate') || null],
    ['opacity', dict.has(PDFName.of('CA')) ? short(number(dict, 'CA', 1)) : null],
    ['inreplyto', answered],
    ['replyType', answered && nameOf(dict, 'RT') === 'Group' ? 'group' : null],
    ...(WORDED.has(subtype) ? [['coords', listed(numbers(dict, 'QuadPoints'))] as [string, string]] : []),
    ...(['Ink', 'Line', 'Square', 'Circle'].includes(subtype)
      ? [['width', short(width)] as [string, string]]
      : []),
    ...(subtype === 'Text' ? [['icon', 'Comment'] as [string, string]] : []),
    ...(subtype === 'Line' ? lineEnds(dict) : []),
  ];
  const inside = [
    ...(subtype === 'Ink' ? [gestures(dict)] : []),
    ...(subtype === 'FreeText'
      ? [`<defaultappearance>${escaped(textOf(dict, 'DA'))}</defaultappearance>`]
      : []),
    `<contents>${escaped(textOf(dict, 'Contents'))}</contents>`,
  ];
  const head = attributes.flatMap(([key, value]) => (value ? [`${key}="${escaped(value)}"`] : [])).join(' ');
  return `<${element} ${head}>${inside.join('')}</${element}>`;
}

function lineEnds(dict: PDFDict): [string, string][] {
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = numbers(dict, 'L');
  const ends = dict.lookup(PDFName.of('LE'));
  const head = (i: number) => {
    const name = ends instanceof PDFArray ? ends.lookup(i) : null;
    return name instanceof PDFName ? name.decodeText() : 'None';
  };
  return [
    ['start', listed([x0, y0])],
    ['end', listed([x1, y1])],
    ['head', head(0)],
    ['tail', head(1)],
  ];
}

function gestures(dict: PDFDict): string {
  const lists = dict.lookup(PDFName.of('InkList'));
  const strokes = lists instanceof PDFArray ? lists.asArray() : [];
  const each = strokes.map((_, i) => {
    const points = (lists as PDFArray).lookup(i);
    const all = points instanceof PDFArray ? points.asArray().map((p) => Number(String(p))) : [];
    const pairs: string[] = [];
    for (let k = 0; k + 1 < all.length; k += 2) pairs.push(`${short(all[k]!)},${short(all[k + 1]!)}`);
    return `<gesture>${pairs.join(';')}</gesture>`;
  });
  return `<inklist>${each.join('')}</inklist>`;
}

/** An element with its attributes, and what is in it. */
interface Element {
  readonly name: string;
  readonly at: Readonly<Record<string, string>>;
  readonly inside: readonly Node[];
}
type Node = Readonly<Record<string, unknown>>;

const MOST_LETTERS = 20_000_000;
const MOST_ANNOTATIONS = 20_000;

export interface XfdfFound {
  /** What the file says it is for; empty: it does not say. */
  readonly ids: string;
  readonly annotations: readonly Element[];
}

/** Reads an XFDF; null: it is none. Names of entities are not followed, and nothing outside it is fetched. */
export function readXfdf(text: string): XfdfFound | null {
  if (text.length > MOST_LETTERS || /<!DOCTYPE/i.test(text)) return null;
  let tree: Node[];
  try {
    tree = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '',
      processEntities: true,
      trimValues: false,
      parseTagValue: false,
      parseAttributeValue: false,
      removeNSPrefix: true,
    }).parse(text) as Node[];
  } catch {
    return null;
  }
  const root = elementsIn(tree).find((e) => e.name === 'xfdf');
  if (!root) return null;
  const parts = elementsIn(root.inside);
  return {
    ids: parts.find((e) => e.name === 'ids')?.at.original ?? '',
    annotations: elementsIn(parts.find((e) => e.name === 'annots')?.inside ?? []).slice(0, MOST_ANNOTATIONS),
  };
}

function elementsIn(nodes: readonly Node[]): Element[] {
  return nodes.flatMap((node) => {
    const name = Object.keys(node).find((k) => k !== ':@' && k !== '#text');
    const inside = name ? node[name] : null;
    if (!name || !Array.isArray(inside)) return [];
    return [{ name, at: (node[':@'] ?? {}) as Record<string, string>, inside: inside as Node[] }];
  });
}

const wordsIn = (element: Element | undefined): string =>
  (element?.inside ?? [])
    .map((n) => (typeof n['#text'] === 'string' ? n['#text'] : wordsIn(elementsIn([n])[0])))
    .join('');

/** Puts the annotations of an XFDF on the pages of a PDF, so that they are read as those of any other program. Gives how many fit on no page, and kinds that are unknown. */
export function layXfdf(
  pdf: PDFDocument,
  found: XfdfFound,
): {
  readonly offPage: number;
  readonly unknown: readonly string[];
  /** What annotations are about, by their names. */
  readonly subjects: Readonly<Record<string, string>>;
} {
  const pages = pdf.getPages();
  const refs = new Map<string, PDFRef>();
  const unknown: string[] = [];
  let offPage = 0;
  const answering: { dict: PDFDict; to: string }[] = [];
  for (const element of found.annotations) {
    const subtype = SUBTYPES[element.name];
    if (!subtype) {
      if (element.name !== 'popup') unknown.push(element.name);
      continue;
    }
    const page = pages[Number(element.at.page)];
    if (!page) {
      offPage++;
      continue;
    }
    const dict = dictOf(pdf, element, subtype, page);
    const ref = pdf.context.register(dict);
    page.node.addAnnot(ref);
    if (element.at.name) refs.set(element.at.name, ref);
    if (element.at.inreplyto) answering.push({ dict, to: element.at.inreplyto });
  }
  for (const { dict, to } of answering) {
    const ref = refs.get(to);
    if (ref) dict.set(PDFName.of('IRT'), ref);
  }
  const subjects = Object.fromEntries(
    found.annotations.flatMap(({ at }) => (at.name && at.subject ? [[at.name, at.subject]] : [])),
  );
  return { offPage, unknown, subjects };
}

const numbersIn = (text: string | undefined): number[] =>
  (text ?? '')
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(Number)
    .filter((n) => Number.isFinite(n) && Math.abs(n) < 20_000)
    .slice(0, 40_000);

function dictOf(pdf: PDFDocument, element: Element, subtype: string, page: PDFPage): PDFDict {
  const { at, inside } = element;
  const parts = elementsIn(inside);
  const part = (name: string) => parts.find((p) => p.name === name);
  const said = part('contents') ?? part('contents-richtext');
  const dict = pdf.context.obj({
    Type: 'Annot',
    Subtype: subtype,
    Rect: numbersIn(at.rect).slice(0, 4),
    F: 4,
    P: page.ref,
  });
  const set = (key: string, value: Parameters<PDFDict['set']>[1]) => dict.set(PDFName.of(key), value);
  const text = (key: string, value: string | undefined) => {
    if (value) set(key, PDFHexString.fromText(value.slice(0, 20_000)));
  };
  text('NM', at.name);
  text('T', at.title);
  text('Subj', at.subject);
  text('Contents', wordsIn(said));
  if (at.date) set('M', PDFString.of(at.date.slice(0, 40)));
  if (at.creationdate) set('CreationDate', PDFString.of(at.creationdate.slice(0, 40)));
  const colour = /^#([0-9a-f]{6})$/i.exec(at.color ?? '')?.[1];
  if (colour)
    set('C', pdf.context.obj([0, 2, 4].map((i) => Number.parseInt(colour.slice(i, i + 2), 16) / 255)));
  if (at.opacity) set('CA', pdf.context.obj(Number(at.opacity) || 1));
  if (at.replyType === 'group') set('RT', PDFName.of('Group'));
  if (WORDED.has(subtype)) set('QuadPoints', pdf.context.obj(numbersIn(at.coords)));
  if (at.width) set('BS', pdf.context.obj({ W: Number(at.width) || 1, S: 'S' }));
  if (subtype === 'Line') {
    set('L', pdf.context.obj([...numbersIn(at.start).slice(0, 2), ...numbersIn(at.end).slice(0, 2)]));
    set('LE', pdf.context.obj([PDFName.of(at.head || 'None'), PDFName.of(at.tail || 'None')]));
  }
  if (subtype === 'Ink') {
    const strokes = elementsIn(part('inklist')?.inside ?? []).map((g) => numbersIn(wordsIn(g)));
    set('InkList', pdf.context.obj(strokes.filter((s) => s.length >= 2 && s.length % 2 === 0)));
  }
  if (subtype === 'FreeText')
    set('DA', PDFString.of((wordsIn(part('defaultappearance')) || '0 g /Helv 12 Tf').slice(0, 200)));
  return dict;
}

import * as z from 'zod';
import { type Box, boxAround } from '../geometry/box.ts';
import type { DocumentId, MarkId } from '../ids/id.ts';
import { isSuggestion, MARK_VERSION, type Mark, recordingOf } from '../marks/mark.ts';
import { coverOf } from '../marks/place.ts';
import { readMark } from '../marks/read-mark.ts';
import { spokenWords } from '../voice/recording.ts';
import { plainWords } from '../words/words.ts';

/** Marks as W3C Web Annotations (Web Annotation Data Model, 2017), in JSON-LD. */
const ANNO = 'http://www.w3.org/ns/anno.jsonld';
/** Fragments of PDF pages (RFC 8118, which replaces RFC 3778). */
const PDF_FRAGMENT = 'http://tools.ietf.org/rfc/rfc3778';
const OWN = 'jotmark:mark';

export interface AnnotatedPages {
  readonly id: DocumentId;
  readonly name: string;
  /** Heights and widths of its pages in points, for fragments; unrotated. */
  readonly sizes: readonly (readonly [width: number, height: number])[];
}

const short = (v: number): number => Math.round(v * 100) / 100;

/** What a mark is for, in the words of the model. */
function motivationOf(mark: Mark): string {
  if (isSuggestion(mark)) return 'editing';
  if (mark.kind === 'stamp') return 'assessing';
  if (mark.kind === 'note' || mark.kind === 'text') return 'commenting';
  return 'highlighting';
}

function bodiesOf(mark: Mark): object[] {
  const body = (value: string, purpose: string) => ({
    type: 'TextualBody',
    value,
    format: 'text/plain',
    purpose,
  });
  const recording = recordingOf(mark);
  const words =
    'words' in mark && typeof mark.words === 'string'
      ? plainWords(mark.words) || (recording ? spokenWords(recording) : '')
      : '';
  return [
    ...(words ? [body(words, isSuggestion(mark) ? 'editing' : 'commenting')] : []),
    ...('reason' in mark && mark.reason ? [body(plainWords(mark.reason), 'describing')] : []),
    ...(mark.focus ? [body(mark.focus, 'tagging')] : []),
  ];
}

function selectorsOf(mark: Mark, page: readonly [number, number] | undefined): object[] {
  const place = 'place' in mark ? mark.place : null;
  const quote = place && 'quote' in place ? place.quote : null;
  const [l, t, r, b] = coverOf(mark).map(short) as [number, number, number, number];
  return [
    {
      type: 'FragmentSelector',
      conformsTo: PDF_FRAGMENT,
      value: `page=${mark.page + 1}&viewrect=${l},${t},${short(r - l)},${short(b - t)}`,
    },
    ...(quote
      ? [{ type: 'TextQuoteSelector', exact: quote.exact, prefix: quote.prefix, suffix: quote.suffix }]
      : []),
    ...(mark.kind === 'ink' && page ? [{ type: 'SvgSelector', value: svgOf(mark.points, page) }] : []),
  ];
}

/** A stroke as a line of an SVG as large as its page. */
function svgOf(points: readonly number[], [w, h]: readonly [number, number]): string {
  const pairs: string[] = [];
  for (let i = 0; i + 1 < points.length; i += 3)
    pairs.push(`${short(points[i]! / 100)},${short(points[i + 1]! / 100)}`);
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${short(w)} ${short(h)}"><polyline fill="none" points="${pairs.join(' ')}"/></svg>`;
}

/**
 * The marks of a hand-in as an annotation page. Each tells where it stands by page and rectangle, by its quoted words, and a stroke by its line; the whole mark goes along
 * under a name of ours, which others may leave alone.
 */
export function writeWebAnnotations(
  marks: readonly Mark[],
  about: { readonly author: string; readonly documents: readonly AnnotatedPages[]; readonly id: string },
): object {
  const sizes = new Map(about.documents.map((d) => [d.id as string, d]));
  return {
    '@context': [ANNO, { jotmark: 'urn:jotmark:', [OWN]: { '@id': OWN, '@type': '@json' } }],
    id: `urn:uuid:${about.id}`,
    type: 'AnnotationPage',
    items: marks
      .filter((m) => m.kind !== 'unread')
      .map((mark) => ({
        id: `urn:uuid:${mark.id}`,
        type: 'Annotation',
        motivation: motivationOf(mark),
        created: new Date(mark.madeAt).toISOString(),
        creator: { type: 'Person', name: about.author },
        body: bodiesOf(mark),
        target: {
          source: `urn:uuid:${mark.document}`,
          selector: selectorsOf(mark, sizes.get(mark.document)?.sizes[mark.page]),
        },
        [OWN]: mark,
      })),
  };
}

const Selector = z.looseObject({
  type: z.string(),
  value: z.string().optional(),
  exact: z.string().optional(),
});
const oneOrMany = <T extends z.ZodType>(of: T) => z.union([of, z.array(of).max(50)]);
const Body = z.looseObject({
  type: z.string().optional(),
  value: z.string().optional(),
  purpose: z.string().optional(),
});
const Item = z.looseObject({
  id: z.string().optional(),
  created: z.string().optional(),
  body: oneOrMany(z.union([Body, z.string()])).optional(),
  target: z.looseObject({ source: z.string().optional(), selector: oneOrMany(Selector).optional() }),
});
const Page = z.looseObject({ items: z.array(z.unknown()).max(20_000), id: z.string().optional() });

export interface AnnotationsFound {
  /** For what it says it is: the id of its page; empty: it does not say. */
  readonly ids: string;
  readonly marks: readonly Mark[];
  /** On pages that are not there. */
  readonly offPage: number;
  /** Annotations of which no place was found. */
  readonly unknown: number;
}

const many = <T>(of: T | readonly T[] | undefined): readonly T[] =>
  of === undefined ? [] : Array.isArray(of) ? of : [of as T];

/**
 * Reads Web Annotations back as marks of these documents; null: it is no such file. One that carries a mark of ours is that mark; of any other its words become a note at the
 * rectangle it names. `idFor` gives a new one its id: the same annotation gets the same each time.
 */
export function readWebAnnotations(
  raw: unknown,
  documents: readonly AnnotatedPages[],
  idFor: (item: string) => MarkId,
): AnnotationsFound | null {
  const page = Page.safeParse(Array.isArray(raw) ? { items: raw } : raw);
  if (!page.success) return null;
  const marks: Mark[] = [];
  let [offPage, unknown] = [0, 0];
  for (const each of page.data.items) {
    const item = Item.safeParse(each);
    if (!item.success) {
      unknown++;
      continue;
    }
    const own = item.data[OWN];
    const read = own === undefined ? null : readMark(own);
    const mark = read && read.kind !== 'unread' ? read : noteOf(item.data, documents, idFor);
    if (mark === null) unknown++;
    else if (mark === 'off' || !hasPage(mark, documents)) offPage++;
    else marks.push(mark);
  }
  return { ids: (page.data.id ?? '').replace(/^urn:uuid:/, ''), marks, offPage, unknown };
}

const hasPage = (mark: Mark, documents: readonly AnnotatedPages[]): boolean => {
  const at = documents.find((d) => d.id === mark.document);
  return at !== undefined && mark.page < at.sizes.length;
};

function noteOf(
  item: z.infer<typeof Item>,
  documents: readonly AnnotatedPages[],
  idFor: (item: string) => MarkId,
): Mark | 'off' | null {
  const fragment = many(item.target.selector).find((s) => s.type === 'FragmentSelector')?.value ?? '';
  const number = Number(/page=(\d+)/.exec(fragment)?.[1]);
  const rect = /viewrect=([\d.,-]+)/.exec(fragment)?.[1]?.split(',').map(Number);
  const bodies = many(item.body) as readonly (string | z.infer<typeof Body>)[];
  const words = bodies
    .flatMap((b) => (typeof b === 'string' ? [b] : b.purpose === 'tagging' ? [] : [b.value ?? '']))
    .filter(Boolean)
    .join('\n');
  if (!number || !words) return null;
  // By its source where that is one of ours, else pages are counted through all documents.
  const source = (item.target.source ?? '').replace(/^urn:uuid:/, '');
  let page = number - 1;
  let at = documents.find((d) => d.id === source);
  if (!at)
    for (const d of documents) {
      if (page < d.sizes.length) {
        at = d;
        break;
      }
      page -= d.sizes.length;
    }
  const size = at?.sizes[page];
  if (!at || !size) return 'off';
  const [x = 20, y = 20, w = 0, h = 0] = rect?.length === 4 && rect.every(Number.isFinite) ? rect : [];
  const box = boxAround([[x, y, x + w, y + h]]) as Box;
  const made = Date.parse(item.created ?? '');
  return readMark({
    v: MARK_VERSION,
    id: idFor(item.id ?? `${number} ${fragment} ${words}`),
    document: at.id,
    page,
    colour: 'lake',
    focus: null,
    madeAt: Number.isFinite(made) ? Math.max(0, made) : 0,
    kind: 'note',
    words: words.slice(0, 4000),
    place: w > 4 && h > 4 ? { on: 'box', box } : { on: 'spot', x, y },
  }) as Mark;
}

import { type DocumentId, Mark, POINT_FIELDS, type StrokePoints } from '@jotmark/core';

/** The entry of an annotation in which its mark is kept whole: standard entries know neither pressure nor what words are quoted. */
export const MARK_KEY = 'JTMK_Mark';
/** The entry of a page that says which page of which document it is. */
export const PAGE_KEY = 'JTMK_Page';

/** The mark as an entry's text, in ASCII. Points of strokes stand in InkList already: only their pressures are kept. */
export function keepMark(mark: Mark): string {
  const { document: _, page: __, ...rest } = mark as Mark & { points?: StrokePoints };
  const stroke = strokeOf(mark);
  const kept = stroke ? withStroke(rest as never, [], pressures(stroke)) : rest;
  return JSON.stringify(kept).replace(
    /[\u007f-\uffff]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
}

/** The mark that was kept, on this page, with the points of its InkList; null where it is none. */
export function readKeptMark(
  text: string,
  on: { readonly document: DocumentId; readonly page: number },
  ink: readonly (readonly [number, number])[],
): Mark | null {
  try {
    const raw = JSON.parse(text);
    const bytes = Buffer.from(String(raw.p ?? raw.place?.p ?? ''), 'base64');
    const points = ink.flatMap(([x, y], i) => [Math.round(x * 100), Math.round(y * 100), bytes[i] ?? 128]);
    const whole = strokeOf(raw) ? withStroke(raw, points, undefined) : raw;
    const read = Mark.safeParse({ ...whole, ...on });
    return read.success ? read.data : null;
  } catch {
    return null;
  }
}

type Stroked = { kind: string; points?: StrokePoints; place?: { on: string; points?: StrokePoints } };

/** The stroke of an ink mark or a free highlight. */
function strokeOf(mark: Stroked | Mark): StrokePoints | null {
  const stroked = mark as Stroked;
  if (stroked.kind === 'ink') return stroked.points ?? [];
  return stroked.kind === 'highlight' && stroked.place?.on === 'free' ? (stroked.place.points ?? []) : null;
}

function withStroke(mark: Stroked, points: StrokePoints, p: string | undefined): Stroked {
  if (mark.kind === 'ink') return { ...mark, points, p } as Stroked;
  return { ...mark, place: { ...mark.place, points, p } } as Stroked;
}

function pressures(points: StrokePoints): string {
  const bytes = Buffer.alloc(points.length / POINT_FIELDS);
  for (let i = 0; i < bytes.length; i++) bytes[i] = points[i * POINT_FIELDS + 2]!;
  return bytes.toString('base64');
}

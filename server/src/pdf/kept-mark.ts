import {
  base64Of,
  bytesIn,
  bytesOf,
  type DocumentId,
  type KeepBytes,
  type Mark,
  POINT_FIELDS,
  readMark,
  type StrokePoints,
} from '@jotmark/core';
import type { BytesOf } from './bytes.ts';

/** The entry of an annotation in which its mark is kept whole: standard entries know neither pressure nor what words are quoted. */
export const MARK_KEY = 'JTMK_Mark';
/** The entry of an annotation that is only another place of a pattern note: the note has it. */
export const ALSO_KEY = 'JTMK_Also';
/** The entry of a page that says which page of which document it is. */
export const PAGE_KEY = 'JTMK_Page';

/**
 * The mark as an entry's text, in ASCII. Points of strokes stand in InkList already: only their pressures are kept. Bytes that it uses go along, since
 * whoever opens the file may not have them.
 */
export function keepMark(mark: Mark, bytes: BytesOf): string {
  const { document: _, page: __, ...rest } = mark as Mark & { points?: StrokePoints };
  const stroke = strokeOf(mark);
  const kept = stroke ? withStroke(rest as never, [], pressures(stroke)) : rest;
  const used = bytesIn(mark).flatMap((digest) => {
    const found = bytes(digest);
    return found ? [[digest, base64Of(found)]] : [];
  });
  return JSON.stringify(used.length ? { ...kept, bytes: Object.fromEntries(used) } : kept).replace(
    /[\u007f-\uffff]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
}

/** The mark that was kept, on this page, with the points of its InkList; null where it is none. `keep` hears of the bytes that came along. */
export function readKeptMark(
  text: string,
  on: { readonly document: DocumentId; readonly page: number },
  ink: readonly (readonly [number, number])[],
  keep: KeepBytes,
): Mark | null {
  try {
    const { bytes: along, ...raw } = JSON.parse(text);
    for (const text of Object.values(along ?? {})) keep(bytesOf(String(text)));
    const bytes = Buffer.from(String(raw.p ?? raw.place?.p ?? ''), 'base64');
    const points = ink.flatMap(([x, y], i) => [Math.round(x * 100), Math.round(y * 100), bytes[i] ?? 128]);
    const whole = strokeOf(raw) ? withStroke(raw, points, undefined) : raw;
    const mark = readMark({ ...whole, ...on }, null, keep);
    return mark.kind === 'unread' ? null : mark;
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

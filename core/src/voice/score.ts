import type { DocumentId, MarkId } from '../ids/id.ts';
import { POINT_FIELDS } from '../ink/stroke.ts';
import type { Mark } from '../marks/mark.ts';
import type { Talk } from './talk.ts';

/** A talk ready to be played over the marks that stand. */
export interface TalkScore {
  /** All marks, in the order they are painted in. */
  readonly marks: readonly Mark[];
  /** Of those that were made in the talk: when. */
  readonly when: ReadonlyMap<MarkId, { readonly from: number; readonly to: number }>;
  readonly seen: Talk['seen'];
}

/**
 * The score of a talk over the marks that stand now: one that was deleted since is no part of it, one that was moved or changed is written as it is now.
 *
 * Laws: at the end all marks stand, the very same as without the talk; before its moment none that was made in it does; and what stands at a
 * moment follows from the moment alone, so that seeking equals playing.
 */
export function scoreOf(talk: Talk, marks: readonly Mark[]): TalkScore {
  const there = new Set(marks.map((m) => m.id));
  const when = new Map<MarkId, { from: number; to: number }>();
  for (const { mark, from, to } of talk.made)
    if (there.has(mark)) when.set(mark, { from, to: Math.max(from, to) });
  return { marks, when, seen: talk.seen.toSorted((a, b) => a.at - b.at) };
}

/** The marks as they stand at this moment of the talk: those to come are not there, the one that is being written is there in part. */
export function marksAt(score: TalkScore, ms: number): readonly Mark[] {
  let whole = true;
  const out: Mark[] = [];
  for (const mark of score.marks) {
    const share = shareAt(score, mark.id, ms);
    if (share >= 1) out.push(mark);
    else {
      whole = false;
      if (share >= 0) out.push(...partOf(mark, share));
    }
  }
  return whole ? score.marks : out;
}

/** How much of a mark is written at this moment: below 0 none, from 1 on all. */
function shareAt(score: TalkScore, id: MarkId, ms: number): number {
  const when = score.when.get(id);
  if (!when || ms >= when.to) return 1;
  if (ms < when.from) return -1;
  return (ms - when.from) / (when.to - when.from);
}

/** The beginning of a mark: of a stroke its first points, of a band over words its first words. What is not written from one end to the other comes at its end. */
function partOf(mark: Mark, share: number): Mark[] {
  if (mark.kind === 'ink') return [{ ...mark, points: firstPoints(mark.points, share) }];
  if (mark.kind === 'line' || mark.kind === 'arrow') {
    const to = (i: 0 | 1) => mark.from[i] + (mark.to[i] - mark.from[i]) * share;
    return [{ ...mark, to: [to(0), to(1)] }];
  }
  if (mark.kind !== 'highlight') return [];
  const { place } = mark;
  if (place.on === 'free') {
    return [{ ...mark, place: { ...place, points: firstPoints(place.points, share) } }];
  }
  return [{ ...mark, place: { ...place, bands: firstBands(place.bands, share) } }];
}

function firstPoints(points: readonly number[], share: number): number[] {
  const n = Math.max(1, Math.ceil((points.length / POINT_FIELDS) * share));
  return points.slice(0, n * POINT_FIELDS);
}

type Bands = Extract<Extract<Mark, { kind: 'highlight' }>['place'], { on: 'passage' }>['bands'];

function firstBands(bands: Bands, share: number): Bands {
  const long = bands.reduce((sum, [l, , r]) => sum + r - l, 0);
  let left = long * share;
  const out: Bands = [];
  for (const [l, t, r, b] of bands) {
    if (left <= 0 && out.length) break;
    out.push([l, t, l + Math.max(0.1, Math.min(left, r - l)), b]);
    left -= r - l;
  }
  return out;
}

/** Where the talk is at this moment: the page that was turned to or written on last. Null: it has not begun to show anything. */
export function placeAt(
  score: TalkScore,
  ms: number,
): { readonly document: DocumentId; readonly page: number; readonly mark: Mark | null } | null {
  let at = -1;
  let mark: Mark | null = null;
  for (const m of score.marks) {
    const when = score.when.get(m.id);
    if (when && when.from <= ms && when.from >= at) [at, mark] = [when.from, m];
  }
  const turned = score.seen.findLast((s) => s.at <= ms);
  if (turned && turned.at > at) return { document: turned.document, page: turned.page, mark: null };
  return mark && { document: mark.document, page: mark.page, mark };
}

import type { PileRow } from '../contract/shapes.ts';
import type { Place } from '../copy/place.ts';
import { compareNames } from '../names/order.ts';

export type PileSort = 'name' | 'time' | 'place' | 'grade' | 'length' | 'shuffled';
/** All copies, those in one place, or those of which a fact holds. */
export type PileFilter = 'all' | Place | 'late' | 'overdue' | 'excused' | 'unopened' | 'words';

/** How a teacher wants to see a pile; the desk goes through it in the same way. */
export interface PileView {
  readonly filter: PileFilter;
  readonly search: string;
  readonly sort: PileSort;
  /** The other way round. */
  readonly down: boolean;
  /** Of a shuffled order: the same seed shuffles the same way, so that nobody comes twice. */
  readonly seed: number;
}

export const WHOLE_PILE: PileView = { filter: 'all', search: '', sort: 'name', down: false, seed: 1 };

const PLACES: readonly Place[] = ['in', 'in-again', 'being-marked', 'marked', 'handed-back', 'with-student'];

/** The rows that are asked for, in the order that is asked for; among equals the order they came in stays. */
export function arrangePile(rows: readonly PileRow[], view: PileView): PileRow[] {
  const kept = rows.filter((r) => fits(r, view.filter) && found(r, view.search));
  const key = keyOf(view);
  const sorted = kept
    .map((row) => ({ row, key: key(row) }))
    .sort((a, b) => compare(a.key, b.key))
    .map(({ row }) => row);
  return view.down ? sorted.reverse() : sorted;
}

/** It lies with its student, who has not looked at it yet. */
export const isUnopened = (row: PileRow): boolean =>
  row.place === 'with-student' && !row.opened && !row.excused;

export function fits(row: PileRow, filter: PileFilter): boolean {
  switch (filter) {
    case 'all':
      return true;
    case 'late':
      return row.late > 0;
    case 'overdue':
      return row.overdue;
    case 'excused':
      return row.excused;
    case 'unopened':
      return isUnopened(row);
    case 'words':
      return row.unread > 0;
    default:
      return row.place === filter;
  }
}

/** Letters without their accents, so that "backlund" finds Bäcklund. */
const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

function found(row: PileRow, search: string): boolean {
  const wanted = plain(search).split(/\s+/).filter(Boolean);
  const name = plain(`${row.student.given} ${row.student.family}`);
  return wanted.every((word) => name.includes(word));
}

type Key = string | number;

function keyOf(view: PileView): (row: PileRow) => Key {
  const last = Number.POSITIVE_INFINITY;
  switch (view.sort) {
    case 'name':
      return (r) => plain(`${r.student.family} ${r.student.given}`);
    case 'time':
      return (r) => r.handedInAt ?? last;
    case 'place':
      return (r) => PLACES.indexOf(r.place);
    case 'grade':
      return (r) => r.grade ?? last;
    case 'length':
      return (r) => r.pages ?? last;
    case 'shuffled':
      return (r) => shuffleKey(r.copyId, view.seed);
  }
}

/** A number that looks like chance and depends on the id and the seed alone (FNV-1a, 32 bits). */
function shuffleKey(id: string, seed: number): number {
  let hash = (0x811c9dc5 ^ seed) >>> 0;
  for (let i = 0; i < id.length; i++) hash = Math.imul(hash ^ id.charCodeAt(i), 0x01000193) >>> 0;
  return Math.imul(hash ^ (hash >>> 15), 0x85ebca6b) >>> 0;
}

const compare = (a: Key, b: Key) =>
  typeof a === 'string' && typeof b === 'string' ? compareNames(a, b) : a < b ? -1 : a > b ? 1 : 0;

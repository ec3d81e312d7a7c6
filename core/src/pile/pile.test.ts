import { randomBytes } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PileRow } from '../contract/shapes.ts';
import { type CopyId, makeId } from '../ids/id.ts';
import { arrangePile, type PileView, WHOLE_PILE } from './arrange.ts';
import { blindName, type SeenName } from './blind.ts';

let n = 1;
const row = (family: string, more: Partial<PileRow> = {}): PileRow => ({
  copyId: makeId(n++, new Uint8Array(10).fill(n)) as CopyId,
  student: { given: 'Ada', family } as SeenName,
  place: 'in',
  excused: false,
  unread: 0,
  documents: 1,
  handInId: null,
  gradeVersion: null,
  doneVersion: null,
  cover: null,
  handedInAt: n,
  late: 0,
  overdue: false,
  handInNumber: 1,
  grade: null,
  typed: null,
  computed: null,
  pages: 1,
  reading: null,
  back: null,
  recalledAt: null,
  opened: true,
  ...more,
});
const rows = [
  row('Stone', { grade: 300, pages: 4, handedInAt: 30 }),
  row('Bäcklund', { grade: 900, handedInAt: 20, late: 1, unread: 1 }),
  row('Ångström', { place: 'with-student', handedInAt: null, pages: null, overdue: true }),
  row('backer', { place: 'marked', grade: 0, handedInAt: 10 }),
];
const names = (view: Partial<PileView>) =>
  arrangePile(rows, { ...WHOLE_PILE, ...view }).map((r) => r.student.family);

describe('a pile as it is asked for', () => {
  test('by name without regard to accents and capitals, by time, grade, length, place', () => {
    expect(names({})).toEqual(['Ångström', 'backer', 'Bäcklund', 'Stone']);
    expect(names({ sort: 'time' })).toEqual(['backer', 'Bäcklund', 'Stone', 'Ångström']);
    expect(names({ sort: 'grade' })).toEqual(['backer', 'Stone', 'Bäcklund', 'Ångström']);
    expect(names({ sort: 'length', down: true }).slice(0, 2)).toEqual(['Ångström', 'Stone']);
    expect(names({ sort: 'place' }).at(-1)).toBe('Ångström');
  });

  test('only what is looked for', () => {
    expect(names({ search: 'BACK' })).toEqual(['backer', 'Bäcklund']);
    expect(names({ search: 'ada st' })).toEqual(['Ångström', 'Stone']);
    expect([
      names({ filter: 'late' }),
      names({ filter: 'overdue' }),
      names({ filter: 'marked' }),
      names({ filter: 'words' }),
    ]).toEqual([['Bäcklund'], ['Ångström'], ['backer'], ['Bäcklund']]);
  });

  test('shuffled every copy comes once, the same way for the same seed', () => {
    fc.assert(
      fc.property(fc.nat(), (seed) => {
        const view: PileView = { ...WHOLE_PILE, sort: 'shuffled', seed };
        const once = arrangePile(rows, view);
        expect(arrangePile([...rows].reverse(), view)).toEqual(once);
        expect(new Set(once)).toEqual(new Set(rows));
      }),
      { seed: 71, numRuns: 50 },
    );
    const orders = new Set([1, 2, 3, 4, 5, 6].map((seed) => names({ sort: 'shuffled', seed }).join()));
    expect(orders.size).toBeGreaterThan(1);
  });
});

test('a blind name is the same for one copy and another for the next', () => {
  const ids = Array.from({ length: 400 }, (_, i) => makeId(i, randomBytes(10)));
  const codes = new Set(ids.map((id) => blindName(id).family));
  expect(codes.size).toBeGreaterThan(395);
  expect(blindName(ids[0]!)).toEqual(blindName(ids[0]!));
  expect(blindName(ids[0]!).family).toMatch(/^[2-9A-HJKMNP-TV-Z]{5}$/);
});

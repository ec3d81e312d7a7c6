import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { wallTime } from '../time/school-time.ts';
import { groupWork, inUse, WHOLE_LIST } from './group-work.ts';
import { daysAhead, usualPoints, usualTime } from './usual.ts';

const work = [
  { id: 1, unit: 'Maps', category: 'test' },
  { id: 2, unit: '', category: 'homework' },
  { id: 3, unit: 'Weather', category: 'homework' },
  { id: 4, unit: 'Maps', category: '' },
];
const ids = (view: Partial<typeof WHOLE_LIST>) =>
  groupWork(work, { ...WHOLE_LIST, ...view }).map((g) => `${g.name}: ${g.work.map((w) => w.id)}`);

describe('set work as a list', () => {
  test('is whole, by unit, by category, narrowed by either; what has none comes last', () => {
    expect(ids({})).toEqual([': 1,2,3,4']);
    expect(ids({ by: 'unit' })).toEqual(['Maps: 1,4', 'Weather: 3', ': 2']);
    expect(ids({ by: 'category' })).toEqual(['homework: 2,3', 'test: 1', ': 4']);
    expect(ids({ unit: 'Maps', by: 'category' })).toEqual(['test: 1', ': 4']);
    expect(ids({ unit: 'Maps', category: 'homework' })).toEqual([]);
    expect(inUse(work, 'unit')).toEqual(['Maps', 'Weather']);
  });

  test('grouped, nothing is lost and nothing comes twice', () => {
    const told = fc.record({ unit: fc.constantFrom('', 'a', 'b'), category: fc.constantFrom('', 'x') });
    fc.assert(
      fc.property(fc.array(told), fc.constantFrom('unit' as const, 'category' as const, null), (all, by) => {
        const grouped = groupWork(all, { ...WHOLE_LIST, by }).flatMap((g) => g.work);
        expect(new Set(grouped)).toEqual(new Set(all));
        expect(grouped).toHaveLength(all.length);
      }),
    );
  });
});

describe('as usual', () => {
  const set = (most: number | null, due: string | null) => ({
    most,
    dueAt: due === null ? null : Date.parse(due),
  });
  test('points and the time of day that come most often; of equals the newer', () => {
    const before = [
      set(2000, '2026-11-24T17:00Z'),
      set(1000, '2026-11-17T18:00Z'),
      set(1000, '2026-07-07T17:00Z'),
      set(null, null),
    ];
    expect(usualPoints(before)).toBe(1000);
    // In summer 17:00 UTC is 18:00 in London.
    expect(usualTime(before, 'Europe/London')).toBe('18:00');
    expect(usualPoints([set(500, null), set(700, null)])).toBe(500);
    expect([usualPoints([]), usualTime([], 'UTC')]).toEqual([null, null]);
  });

  test('in a week is the same time by the clock, also where the clocks change between', () => {
    const now = Date.parse('2026-10-20T09:00Z');
    expect(wallTime(daysAhead(now, 7, '18:00', 'Europe/London')!, 'Europe/London')).toBe('2026-10-27T18:00');
    expect(daysAhead(now, 7, '18:00', 'Europe/London')! - daysAhead(now, 0, '18:00', 'Europe/London')!).toBe(
      (7 * 24 + 1) * 3_600_000,
    );
    expect(wallTime(daysAhead(Date.parse('2026-12-31T12:00Z'), 1, '08:30', 'UTC')!, 'UTC')).toBe(
      '2027-01-01T08:30',
    );
  });
});

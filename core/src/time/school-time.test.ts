import fc from 'fast-check';
import { expect, test } from 'vitest';
import { momentAt, wallTime } from './school-time.ts';

test('a wall time of the school is one moment, in winter and in summer', () => {
  expect(momentAt('2026-11-25T16:30', 'Europe/Berlin')).toBe(Date.UTC(2026, 10, 25, 15, 30));
  expect(momentAt('2026-07-25T16:30', 'Europe/Berlin')).toBe(Date.UTC(2026, 6, 25, 14, 30));
  expect(momentAt('2026-11-25T16:30', 'Pacific/Auckland')).toBe(Date.UTC(2026, 10, 25, 3, 30));
});

test('a time that the clock change leaves out counts as an hour later, one that comes twice as the first', () => {
  expect(wallTime(momentAt('2026-03-29T02:30', 'Europe/Berlin')!, 'Europe/Berlin')).toBe('2026-03-29T03:30');
  expect(momentAt('2026-10-25T02:30', 'Europe/Berlin')).toBe(Date.UTC(2026, 9, 25, 0, 30));
});

test('what is no date is none', () => {
  for (const bad of ['', 'tomorrow', '2026-02-30T10:00', '2026-13-01T10:00', '2026-01-01T24:00'])
    expect(momentAt(bad, 'UTC'), bad).toBeNull();
});

test('shown and read back is the same minute', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 4_000_000_000 }).filter((s) => s > 86_400),
      fc.constantFrom('Europe/London', 'Asia/Kathmandu', 'America/St_Johns', 'UTC'),
      (seconds, zone) => {
        const minute = Math.floor(seconds / 60) * 60_000;
        const back = momentAt(wallTime(minute, zone), zone)!;
        // An hour that comes twice is read as its first.
        expect([0, 3_600_000]).toContain(minute - back);
      },
    ),
    { seed: 41, numRuns: 200 },
  );
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { dayWords, fullDay, momentWords, paperDay } from './moment-words.ts';
import { momentAt } from './school-time.ts';

const LONDON = 'Europe/London';
const at = (wall: string, zone = LONDON) => momentAt(wall, zone)!;
const HOUR = 3_600_000;

describe('a moment as it is read', () => {
  test.each([
    // A Saturday.
    ['2026-11-28T18:00', '2026-11-28T09:00', 'today 18:00'],
    ['2026-11-28T00:00', '2026-11-28T23:59', 'today 00:00'],
    ['2026-11-29T00:00', '2026-11-28T23:59', 'tomorrow 00:00'],
    ['2026-11-27T23:59', '2026-11-28T00:00', 'yesterday 23:59'],
    ['2026-11-30T18:00', '2026-11-28T23:59', 'Mon 18:00'],
    ['2026-12-04T18:00', '2026-11-28T00:01', 'Fri 18:00'],
    // The next one of the same name has its date, and so has the last one: "Tue" is never last Tuesday.
    ['2026-12-05T18:00', '2026-11-28T23:59', '5 Dec 18:00'],
    ['2026-11-24T18:00', '2026-11-28T09:00', '24 Nov 18:00'],
    ['2026-11-26T18:00', '2026-11-28T09:00', '26 Nov 18:00'],
  ])('%s at %s is %s', (moment, now, words) => {
    expect(momentWords(at(moment), at(now), LONDON)).toBe(words);
  });

  test.each([
    ['2027-01-01T08:00', '2026-12-31T20:00', 'tomorrow 08:00'],
    ['2026-12-31T20:00', '2027-01-01T08:00', 'yesterday 20:00'],
    ['2027-01-04T08:00', '2026-12-30T20:00', 'Mon 08:00'],
    ['2027-01-14T08:00', '2026-12-30T20:00', '14 Jan 2027 08:00'],
    ['2026-12-14T08:00', '2027-01-02T20:00', '14 Dec 2026 08:00'],
    ['2026-09-05T08:00', '2026-12-30T20:00', '5 Sept 08:00'],
  ])('around new year: %s at %s is %s', (moment, now, words) => {
    expect(momentWords(at(moment), at(now), LONDON)).toBe(words);
  });

  test('days of 23 and of 25 hours are days like others', () => {
    // Clocks go forward on 29 March 2026 and back on 25 October 2026.
    expect(momentWords(at('2026-03-29T23:30'), at('2026-03-28T23:45'), LONDON)).toBe('tomorrow 23:30');
    expect(momentWords(at('2026-03-28T00:10'), at('2026-03-29T23:50'), LONDON)).toBe('yesterday 00:10');
    expect(momentWords(at('2026-10-25T23:50'), at('2026-10-25T00:10'), LONDON)).toBe('today 23:50');
    expect(momentWords(at('2026-10-26T00:10'), at('2026-10-25T00:05'), LONDON)).toBe('tomorrow 00:10');
    // The hour that comes twice reads the same twice.
    const first = at('2026-10-25T01:30');
    expect(momentWords(first + HOUR, first, LONDON)).toBe('today 01:30');
  });

  test('it is the school’s day that counts, not that of Greenwich', () => {
    const [late, now] = [Date.UTC(2026, 10, 28, 22, 30), Date.UTC(2026, 10, 28, 21)];
    expect(momentWords(late, now, 'Europe/Helsinki')).toBe('tomorrow 00:30');
    expect(momentWords(late, now, 'America/St_Johns')).toBe('today 19:00');
  });

  test('in full, and on paper', () => {
    expect(fullDay(at('2026-11-28T12:00'), LONDON)).toBe('Saturday 28 November 2026');
    expect(paperDay(at('2026-11-28T12:00'), LONDON)).toBe('28 November 2026');
  });

  test('two days within a year of each other never read the same, whenever they are read', () => {
    const moment = fc.integer({ min: Date.UTC(2020, 0, 1), max: Date.UTC(2035, 0, 1) });
    const days = fc.integer({ min: -180, max: 180 });
    fc.assert(
      fc.property(moment, days, days, (now, a, b) => {
        const words = (n: number) => dayWords(now + n * 24 * HOUR, now, LONDON);
        if (fullDay(now + a * 24 * HOUR, LONDON) === fullDay(now + b * 24 * HOUR, LONDON)) return true;
        return words(a) !== words(b);
      }),
    );
  });
});

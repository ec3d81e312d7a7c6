import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { mayTakeBack, promisedUntil, TakingBack } from './taking-back.ts';

const DUE = Date.UTC(2031, 4, 9, 17);

describe('taking back', () => {
  test('until it is due: up to the last moment before, and never without a date', () => {
    expect(mayTakeBack('until-due', DUE, DUE - 1)).toBe(true);
    expect(mayTakeBack('until-due', DUE, DUE)).toBe(false);
    expect(mayTakeBack('until-due', null, 0)).toBe(false);
  });

  test('never is never; until marking begins it can always be tried', () => {
    expect(mayTakeBack('never', DUE, 0)).toBe(false);
    expect(mayTakeBack('until-marked', DUE, DUE + 1)).toBe(true);
  });

  test('marking waits exactly as long as a student was promised that it can be taken back until a date', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...TakingBack.options),
        fc.option(fc.integer({ min: 0, max: 2e12 })),
        fc.integer({ min: 0, max: 2e12 }),
        (rule, dueAt, now) => {
          const until = promisedUntil(rule, dueAt, now);
          if (until === null) expect(rule === 'until-due' && mayTakeBack(rule, dueAt, now)).toBe(false);
          else expect([until, mayTakeBack(rule, dueAt, now), rule]).toEqual([dueAt, true, 'until-due']);
        },
      ),
    );
  });
});

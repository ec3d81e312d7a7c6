import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { ChangeId } from '../ids/id.ts';
import { play, steps, testId } from './arbitrary.ts';
import { changesBackTo } from './back.ts';
import { invertChange, MarkingChange, subjectOf } from './change.ts';
import { judge } from './judge.ts';
import { applyAll, applyChange, EMPTY_SHEET, type Sheet, standingMarks, versionOf } from './sheet.ts';

const shows = (sheet: Sheet) => ({
  marks: standingMarks(sheet),
  grade: sheet.slip.grade.value,
  closing: sheet.slip.closing.value,
  done: sheet.slip.done.value,
});
const ids = () => {
  let n = 7000;
  return () => testId<ChangeId>(n++);
};

test('back to any moment shows that moment, in changes the server takes; taken back they show now again', () => {
  fc.assert(
    fc.property(steps, fc.nat(25), (list, n) => {
      const { sheet: now, changes } = play(EMPTY_SHEET, list);
      const then = applyAll(EMPTY_SHEET, changes.slice(0, n));
      const back = changesBackTo(now, then, ids());
      let at = now;
      for (const change of back) {
        expect(MarkingChange.parse(JSON.parse(JSON.stringify(change)))).toEqual(change);
        expect(judge(change, versionOf(at, subjectOf(change)), false)).toBe('apply');
        at = applyChange(at, change);
      }
      expect(shows(at)).toEqual(shows(then));
      back.toReversed().forEach((change, i) => {
        at = applyChange(
          at,
          invertChange(change, testId<ChangeId>(9000 + i), versionOf(at, subjectOf(change)))!,
        );
      });
      expect(shows(at)).toEqual(shows(now));
    }),
  );
});

test('two that show the same need nothing', () => {
  fc.assert(
    fc.property(steps, (list) => {
      const { sheet } = play(EMPTY_SHEET, list);
      expect(changesBackTo(sheet, sheet, ids())).toEqual([]);
    }),
  );
});

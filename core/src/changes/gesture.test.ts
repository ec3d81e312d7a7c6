import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { ChangeId } from '../ids/id.ts';
import { play, steps, testId, valuesOf } from './arbitrary.ts';
import { type Change, type Gesture, invertChange, subjectOf } from './change.ts';
import { mergeGestures, rebaseChange } from './gesture.ts';
import { judge } from './judge.ts';
import { applyAll, applyChange, EMPTY_SHEET, type Sheet, versionOf } from './sheet.ts';

function takenBack(sheet: Sheet, gesture: Gesture): Sheet {
  return gesture.toReversed().reduce((at, change, i) => {
    const inverse = invertChange(change, testId<ChangeId>(9000 + i), versionOf(at, subjectOf(change)));
    return inverse ? applyChange(at, inverse) : at;
  }, sheet);
}

/** A gesture changes each thing once. */
const onceEach = (changes: readonly Change[]) =>
  changes.filter((c, i) => changes.findIndex((d) => subjectOf(d) === subjectOf(c)) === i);

test('what was merged, taken back, shows what stood before both', () => {
  fc.assert(
    fc.property(steps, steps, steps, (earlier, one, two) => {
      const { sheet: start } = play(EMPTY_SHEET, earlier, 1000);
      const first = onceEach(play(start, one, 2000).changes);
      const middle = applyAll(start, first);
      const second = onceEach(play(middle, two, 3000).changes);
      const end = applyAll(middle, second);
      // A mark that goes and comes within one gesture is more than the merging is asked for: gestures that merge are of one kind.
      fc.pre(!first.some((c) => c.type === 'remove'));
      expect(valuesOf(takenBack(end, mergeGestures(first, second)))).toEqual(valuesOf(start));
    }),
  );
});

test('a note that is made, written and thrown away within one gesture leaves nothing to take back', () => {
  fc.assert(
    fc.property(steps, (list) => {
      const put = play(EMPTY_SHEET, [{ ...list[0]!, act: 4 }]);
      const gone = play(put.sheet, [{ ...list[0]!, act: 0 }], 2000);
      expect(mergeGestures(put.changes, gone.changes)).toEqual([]);
    }),
  );
});

test('a wish made anew on what stands is taken, and shows what was wished', () => {
  fc.assert(
    fc.property(steps, steps, fc.nat(), (mine, theirs, pick) => {
      const { changes } = play(EMPTY_SHEET, mine);
      const wish = changes[pick % changes.length]!;
      const { sheet } = play(EMPTY_SHEET, theirs, 4000);
      const anew = rebaseChange(wish, sheet, testId<ChangeId>(8000));
      expect(anew.id).not.toBe(wish.id);
      expect(judge(anew, versionOf(sheet, subjectOf(anew)), false)).toBe('apply');
      const after = applyChange(sheet, anew);
      if (anew.type === 'put') expect(after.marks.get(anew.mark.id)?.value).toEqual(anew.mark);
      else if (anew.type === 'remove') expect(after.marks.get(anew.of)?.value ?? null).toBeNull();
      else if (anew.type === 'write') expect(after.slip[anew.field].value).toEqual(anew.value);
      else if (anew.type === 'score') expect(after.scores.get(anew.of)?.value ?? null).toEqual(anew.value);
      else if (anew.type === 'answer') expect(after.answers.get(anew.question)?.value).toBe(anew.value);
    }),
  );
});

import fc from 'fast-check';
import { expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { MarkId, QuestionId } from '../ids/id.ts';
import { cameWent, SPELL_PAUSE } from './came-went.ts';
import { textStep } from './entry.ts';
import { type TrailLine, TrailReader } from './sittings.ts';

const q = testId<QuestionId>(1);
const other = testId<QuestionId>(2);
const stroke = testId<MarkId>(500);

/** Lines of one answer that reads so at these times. */
function wordings(subject: QuestionId, steps: readonly (readonly [at: number, text: string])[]): TrailLine[] {
  let was = '';
  return steps.map(([at, text]) => {
    const line = { at, subject, step: textStep(was, text, 0) };
    was = text;
    return line;
  });
}

test('keys struck in one go are one passage that came; a pause begins anew', () => {
  const lines = wordings(q, [
    [0, 'the h'],
    [1000, 'the hill'],
    [SPELL_PAUSE + 2000, 'the steep hill'],
    [SPELL_PAUSE + 3000, 'the very steep hill'],
  ]);
  const reader = new TrailReader(lines);
  expect(cameWent(lines, reader, 0)).toBeNull();
  expect(cameWent(lines, reader, 2)).toEqual({ on: 'answer', question: q, came: 'the hill', went: '' });
  expect(cameWent(lines, reader, 4)).toEqual({ on: 'answer', question: q, came: 'very steep ', went: '' });
});

test('another answer ends the spell, and what was swapped is told both ways', () => {
  const lines = [
    ...wordings(other, [[0, 'x']]),
    ...wordings(q, [
      [100, 'by the church'],
      [200, 'by the tower'],
    ]),
  ];
  expect(cameWent(lines, new TrailReader(lines), 3)).toEqual({
    on: 'answer',
    question: q,
    came: 'by the tower',
    went: '',
  });
  const later = wordings(q, [
    [0, 'by the church'],
    [SPELL_PAUSE * 2, 'by the tower'],
  ]);
  expect(cameWent(later, new TrailReader(later), 2)).toMatchObject({ came: 'tower', went: 'church' });
});

test('strokes of one go are told together', () => {
  const lines: TrailLine[] = [
    { at: 0, subject: stroke, step: ['+', 3] },
    { at: 50, subject: stroke, step: ['-'] },
  ];
  expect(cameWent(lines, new TrailReader(lines), 2)).toEqual({ on: 'page', came: [stroke], went: [stroke] });
});

test('what came in place of what went makes the one wording of the other', () => {
  const words = fc.string({ maxLength: 12 });
  fc.assert(
    fc.property(words, words, (before, after) => {
      const lines = wordings(q, [
        [0, before],
        [SPELL_PAUSE * 2, after],
      ]);
      const said = cameWent(lines, new TrailReader(lines), 2)!;
      if (said.on !== 'answer') throw new Error('an answer was changed');
      const head = before.length - said.went.length;
      const found = Array.from({ length: head + 1 }, (_, i) => i).some(
        (i) =>
          before.slice(0, i) + said.went + before.slice(i + said.went.length) === before &&
          before.slice(0, i) + said.came + before.slice(i + said.went.length) === after,
      );
      expect(found).toBe(true);
    }),
  );
});

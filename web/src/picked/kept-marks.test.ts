import { type BoxMark, type CutMark, type DocumentId, type MarkId, makeId } from '@jotmark/core';
import { afterEach, describe, expect, test } from 'vitest';
import { keepMarks, keptMarks, putDown } from './kept-marks.ts';

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const document = id<DocumentId>(9);
const base = { v: 2 as const, document, page: 0, colour: 'lake' as const, focus: null, madeAt: 5 };
const box: BoxMark = { ...base, id: id<MarkId>(2), kind: 'box', box: [147, 96, 243, 116], width: 2 };
const cut: CutMark = {
  ...base,
  id: id<MarkId>(3),
  kind: 'cut',
  place: {
    on: 'passage',
    bands: [[150, 100, 190, 112]],
    quote: { exact: 'hill', prefix: '', suffix: '', start: 4, end: 8 },
  },
};

describe('marks that were copied', () => {
  afterEach(() => keepMarks([]));

  test('lie a little beside on their own page, in their place on another, and say how many stay behind', () => {
    keepMarks([box, cut]);
    const to = { newId: () => id<MarkId>(7), madeAt: 8, document };
    const here = putDown(keptMarks(), { ...to, page: 0 });
    expect(here).toMatchObject({ left: 1, marks: [{ kind: 'box', box: [159, 108, 255, 128], id: id(7) }] });
    const there = putDown(keptMarks(), { ...to, page: 1 });
    expect(there.marks).toMatchObject([{ page: 1, box: [147, 96, 243, 116] }]);
    expect(keptMarks()[0]).toBe(box);
  });
});

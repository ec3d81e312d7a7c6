import { expect, test } from 'vitest';
import type { TrayId } from '../ids/id.ts';
import { STUDENT_TRAY } from './pen.ts';
import { penTitle } from './pen-title.ts';
import { HAND_TOOLS, starterTrays } from './trays.ts';

test('a pen says what it is, then its name; once where the name says it', () => {
  const [writing] = starterTrays(() => 't' as TrayId).trays;
  expect(writing!.pens.map(penTitle)).toEqual([
    'Red pen',
    'Stamp: tick',
    'Highlight: method',
    'Highlight: well put',
    'Note: accuracy',
    'Note: wording',
    'Swap',
    'Addition',
    'Cut',
    'Page text',
  ]);
});

test('what leaves no mark, and what students write with, is called as everywhere', () => {
  expect(HAND_TOOLS.map((t) => penTitle(t.pen))).toEqual(['Select', 'Lasso', 'Eraser', 'Part eraser']);
  expect(STUDENT_TRAY.map(penTitle)).toEqual(['Type', 'Pencil', 'Highlighter', 'Note', 'Eraser']);
});

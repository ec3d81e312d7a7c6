import { type CopyId, makeId, type PileRow } from '@jotmark/core';
import { describe, expect, test } from 'vitest';
import { matched } from './useFilesFor.ts';

const row = (n: number, given: string, family: string, place = 'with-student'): PileRow =>
  ({
    copyId: makeId(n, new Uint8Array(10).fill(n)) as CopyId,
    place,
    student: { given, family },
  }) as unknown as PileRow;
const rows = [row(1, 'Ada', 'Stone'), row(2, 'Ben', 'Oduya', 'in'), row(3, 'Cyd', 'Bäcklund', 'handed-back')];
const file = (name: string, size = 3, folder = '') => {
  const made = new File([new Uint8Array(size)], name);
  if (folder) Object.defineProperty(made, 'webkitRelativePath', { value: `${folder}/${name}` });
  return made;
};
const found = (files: readonly File[], only: CopyId | null = null) =>
  matched(files, rows, only).map((f) => [
    f.path,
    rows.find((r) => r.copyId === f.to)?.student.given ?? null,
    f.double,
  ]);

describe('files that came another way', () => {
  test('find their student by their own name or that of their folder', () => {
    expect(found([file('Stone, Ada.pdf'), file('1.jpg', 4, '7K/Baecklund Cyd'), file('scan.pdf')])).toEqual([
      ['Stone, Ada.pdf', 'Ada', false],
      ['7K/Baecklund Cyd/1.jpg', 'Cyd', false],
      ['scan.pdf', null, false],
    ]);
  });

  test('of who has handed in already wait to be told', () =>
    expect(matched([file('Ben Oduya.pdf')], rows, null)).toMatchObject([{ to: null, late: 'Ben Oduya' }]));

  test('that are there twice are left out the second time; several of one student all go', () =>
    expect(found([file('ada 1.jpg'), file('ada 1.jpg'), file('ada 2.jpg'), file('ada 1.jpg', 9)])).toEqual([
      ['ada 1.jpg', 'Ada', false],
      ['ada 1.jpg', null, true],
      ['ada 2.jpg', 'Ada', false],
      ['ada 1.jpg', 'Ada', false],
    ]));

  test('of the same name and size are two where they are of two students; what was here before counts', () => {
    const before = matched([file('1.jpg', 4, 'Ada Stone')], rows, null);
    const more = matched(
      [file('1.jpg', 4, 'Ada Stone'), file('1.jpg', 4, 'Baecklund Cyd')],
      rows,
      null,
      before,
    );
    expect(more.map((f) => [f.to, f.double])).toEqual([
      [null, true],
      [rows[2]!.copyId, false],
    ]);
  });

  test('dropped on one line are that student’s, whatever they are called', () => {
    expect(found([file('Cyd.pdf'), file('scan.pdf')], rows[0]!.copyId)).toEqual([
      ['Cyd.pdf', 'Ada', false],
      ['scan.pdf', 'Ada', false],
    ]);
    expect(found([file('x.pdf')], rows[1]!.copyId)).toEqual([['x.pdf', null, false]]);
  });
});

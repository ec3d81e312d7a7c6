import { randomBytes } from 'node:crypto';
import { type CriterionId, type LevelId, makeId, type Rubric } from '@jotmark/core';

const id = <T>(): T => makeId(Date.now(), randomBytes(10)) as T;
const LEVELS = ['Not yet', 'Begins', 'Can', 'Can well'];

/** Four criteria of four levels, 1 to 4 points each. */
export const aShortTalk = (): Rubric => ({
  v: 1,
  criteria: (
    [
      [
        'Speaks to us',
        'Reads aloud.',
        'Looks up now and then.',
        'Speaks freely, most of the time.',
        'Speaks to somebody.',
      ],
      [
        'Knows the weather',
        'What all see.',
        'Two facts.',
        'Explains one.',
        'Explains how they hang together.',
      ],
      ['Shows it', 'Nothing.', 'A picture.', 'Points to it.', 'The picture grows.'],
      ['Keeps to time', 'Far off.', 'A minute off.', 'Half a minute off.', 'Three minutes.'],
    ] as const
  ).map(([name, ...descriptors]) => ({
    id: id<CriterionId>(),
    name,
    weight: 100,
    levels: LEVELS.map((level, i) => ({
      id: id<LevelId>(),
      name: level,
      descriptor: descriptors[i]!,
      points: (i + 1) * 100,
    })),
  })),
});

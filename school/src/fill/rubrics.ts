import { type CriterionId, type LevelId, makeId, type Rubric } from '@jotmark/core';
import type { Chance } from '../chance.ts';

type Told = readonly (readonly [name: string, weight: number, ...descriptors: string[]])[];

/** A rubric out of its words; levels have the same names and points in every criterion. */
function rubric(chance: Chance, at: number, levels: readonly string[], criteria: Told): Rubric {
  const id = <T>() =>
    makeId(
      at,
      Uint8Array.from({ length: 10 }, () => chance.int(0, 255)),
    ) as T;
  return {
    v: 1,
    criteria: criteria.map(([name, weight, ...descriptors]) => ({
      id: id<CriterionId>(),
      name,
      weight: weight * 100,
      levels: levels.map((level, i) => ({
        id: id<LevelId>(),
        name: level,
        descriptor: descriptors[i] ?? '',
        points: (i + 1) * 100,
      })),
    })),
  };
}

const LEVELS = ['Not yet', 'Begins', 'Can', 'Can well'];

export const tellingAWalk = (chance: Chance, at: number): Rubric =>
  rubric(chance, at, LEVELS, [
    [
      'Describes the way',
      3,
      'A list of places.',
      'Says where and when, no reasons.',
      'Says where, when and how it felt; one can follow.',
      'One walks along; what matters stands out.',
    ],
    [
      'Reads the map',
      3,
      'No map in the text.',
      'Names signs.',
      'Uses lines or grid for one statement.',
      'Lines, grid and scale together carry the story.',
    ],
    [
      'Measures',
      2,
      'No numbers.',
      'Numbers without unit.',
      'Numbers with unit.',
      'Numbers with unit, and how they were found.',
    ],
    [
      'Writes clearly',
      1,
      'Hard to read aloud.',
      'Sentences mostly hold.',
      'Sentences hold, few slips.',
      'Sentences lead the reader.',
    ],
  ]);

export const aShortTalk = (chance: Chance, at: number): Rubric =>
  rubric(chance, at, LEVELS, [
    [
      'Speaks to us',
      1,
      'Reads from a sheet.',
      'Looks up now and then.',
      'Speaks freely, most of the time.',
      'Speaks to somebody: one wants to answer.',
    ],
    [
      'Knows the weather',
      1,
      'Says what everybody sees.',
      'Names two facts.',
      'Explains one of them.',
      'Explains how one thing leads to the other.',
    ],
    [
      'Shows it',
      1,
      'Nothing to look at.',
      'Holds up a picture.',
      'Points to what is meant.',
      'The picture grows while one listens.',
    ],
    [
      'Keeps to three minutes',
      1,
      'Under one minute, or over five.',
      'A minute off.',
      'Half a minute off.',
      'Three minutes, and an end.',
    ],
  ]);

import { type Digest, type DocumentId, type Mark, type MarkId, makeId } from '@jotmark/core';
import { describe, expect, test } from 'vitest';
import { ANY, chooseMarks, thereAre } from './choose.ts';

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const base = (n: number, focus: string | null) => ({
  v: 2 as const,
  id: id<MarkId>(n),
  document: id<DocumentId>(99),
  page: 0,
  colour: 'lake' as const,
  focus,
  madeAt: n,
});
const note = (n: number, words: string, focus: string | null = null): Mark => ({
  ...base(n, focus),
  kind: 'note',
  words,
  place: { on: 'spot', x: 10, y: n * 20 },
});
const tick: Mark = {
  ...base(9, null),
  kind: 'stamp',
  x: 5,
  y: 5,
  size: 20,
  turn: 0,
  look: { of: 'sign', sign: 'tick' },
  points: 50,
};
const all = [note(2, 'Größe fehlt', 'accuracy'), note(1, 'Which hill?', 'wording'), tick];

const spoken: Mark = {
  ...(note(3, '', 'accuracy') as Extract<Mark, { kind: 'note' }>),
  voice: {
    file: 'a'.repeat(64) as Digest,
    type: 'audio/ogg',
    ms: 4000,
    peaks: [],
    captions: [{ at: 0, words: 'Look at the scale bar.' }],
  },
};

describe('choosing among marks', () => {
  test('what is spoken is a kind of its own, and found by what is said in it', () => {
    expect(thereAre([...all, spoken]).kinds).toEqual(['note', 'stamp', 'voice']);
    expect(chooseMarks([...all, spoken], { ...ANY, kind: 'voice' })).toEqual([spoken]);
    expect(chooseMarks([...all, spoken], { ...ANY, words: 'scale bar' })).toEqual([spoken]);
    expect(chooseMarks([...all, spoken], { ...ANY, focus: 'accuracy' })).toHaveLength(2);
  });

  test('gives them in reading order', () => {
    expect(chooseMarks(all, ANY).map((m) => m.id)).toEqual([id(9), id(1), id(2)]);
  });

  test('by kind, by what they are about, by their words', () => {
    expect(chooseMarks(all, { ...ANY, kind: 'stamp' })).toEqual([tick]);
    expect(chooseMarks(all, { ...ANY, focus: '' })).toEqual([tick]);
    expect(chooseMarks(all, { ...ANY, focus: 'wording' })).toEqual([all[1]]);
    expect(chooseMarks(all, { ...ANY, words: ' grosse ' })).toEqual([]);
    expect(chooseMarks(all, { ...ANY, words: 'GROẞE' })).toEqual([all[0]]);
    expect(chooseMarks(all, { ...ANY, words: 'TICK, ½' })).toEqual([tick]);
    expect(chooseMarks(all, { ...ANY, words: 'accur' })).toEqual([all[0]]);
    expect(chooseMarks(all, { kind: 'note', focus: 'accuracy', words: 'hill' })).toEqual([]);
  });

  test('says what there is to choose from, each once', () => {
    expect(thereAre([...all, note(3, 'x', 'wording')])).toEqual({
      kinds: ['note', 'stamp'],
      focuses: ['', 'accuracy', 'wording'],
    });
  });
});

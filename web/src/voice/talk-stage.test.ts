import { type Digest, type DocumentId, type Mark, type MarkId, makeId, type Recording } from '@jotmark/core';
import { expect, test, vi } from 'vitest';
import { TalkStage } from './talk-stage.ts';

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const document = id<DocumentId>(99);
const stroke = (n: number): Mark => ({
  v: 2,
  id: id<MarkId>(n),
  document,
  page: 0,
  colour: 'garnet',
  focus: null,
  madeAt: 0,
  kind: 'ink',
  width: 2,
  points: Array.from({ length: 30 }, (_, i) => i * 10),
});
const marks = [stroke(1), stroke(2)];
const recording: Recording = {
  file: 'a'.repeat(64) as Digest,
  type: 'audio/ogg',
  ms: 4000,
  peaks: [],
  captions: [],
  talk: { made: [{ mark: id<MarkId>(2), from: 1000, to: 2000 }], seen: [] },
};

test('a page is given the very same list for as long as nothing on it changes, whoever asks and however often', () => {
  const stage = new TalkStage();
  const heard = vi.fn();
  stage.subscribe(heard);
  expect(stage.marksOn(document, 0, marks)).toBe(marks);
  stage.show(recording, 500);
  const before = stage.marksOn(document, 0, marks);
  expect(before).toEqual([marks[0]]);
  stage.show(recording, 900);
  expect(stage.marksOn(document, 0, marks)).toBe(before);
  stage.show(recording, 1500);
  const half = stage.marksOn(document, 0, marks);
  expect(half).toHaveLength(2);
  expect(half[1]).not.toBe(marks[1]);
  expect(stage.marksOn(document, 0, marks)).toBe(half);
  // A page on which nothing was made in the talk never changes.
  const others = [stroke(5)];
  expect(stage.marksOn(document, 1, others)).toBe(others);
  expect(heard).toHaveBeenCalledTimes(3);
});

test('put away, all stand as ever', () => {
  const stage = new TalkStage();
  stage.show(recording, 0);
  expect(stage.marksOn(document, 0, marks)).toHaveLength(1);
  stage.show(recording, null);
  expect(stage.playing).toBe(false);
  expect(stage.marksOn(document, 0, marks)).toBe(marks);
});

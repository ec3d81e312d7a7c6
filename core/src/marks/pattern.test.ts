import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { MarkId } from '../ids/id.ts';
import { MOST_ALSO, type NoteMark } from './mark.ts';
import {
  echoesOf,
  erasedPlaces,
  gatherNotes,
  isEcho,
  type NotePlace,
  originOf,
  type PatternNote,
  placesOf,
  standsAlso,
  standsNotAt,
  withEchoes,
} from './pattern.ts';

const words = (start: number, page = 0): NotePlace => ({
  document,
  page,
  place: {
    on: 'passage',
    bands: [[start, 0, start + 10, 10]],
    quote: { exact: 'thier', prefix: '', suffix: '', start, end: start + 5 },
  },
});
const note = (n: number, at = words(n)): PatternNote =>
  ({
    v: 2,
    id: testId<MarkId>(n),
    colour: 'lake',
    focus: 'wording',
    madeAt: 1,
    kind: 'note',
    words: 'their, as in “theirs”',
    ...at,
  }) as NoteMark as PatternNote;

describe('a pattern note', () => {
  test('stands at its other places under its own id, and leads back to itself', () => {
    const many = standsAlso(note(1), [words(50), words(90, 1)]);
    const echoes = echoesOf(many);
    expect(echoes.map((e) => [e.id, e.page, e.also])).toEqual([
      [many.id, 0, undefined],
      [many.id, 1, undefined],
    ]);
    expect(echoesOf(many)).toBe(echoes);
    expect(echoes.every((e) => isEcho(e) && originOf(e) === many)).toBe(true);
    expect(isEcho(many)).toBe(false);
    expect(placesOf(many)).toBe(3);
    expect(withEchoes([note(9), many])).toHaveLength(4);
    const plain = [note(9)];
    expect(withEchoes(plain)).toBe(plain);
  });

  test('is not put twice at one place, nor at more than it holds', () => {
    const once = note(1);
    expect(standsAlso(once, [words(1), words(3)])).toBe(once);
    const full = standsAlso(
      once,
      Array.from({ length: 100 }, (_, i) => words(10 + i * 10)),
    );
    expect(full.also).toHaveLength(MOST_ALSO);
  });

  test('leaves a place, and with the last becomes a plain note again', () => {
    const two = standsAlso(note(1), [words(50), words(90)]);
    const one = standsNotAt(two, echoesOf(two)[0]!);
    expect(one.also).toEqual([words(90)]);
    const plain = standsNotAt(one, echoesOf(one)[0]!);
    expect(plain).toEqual(note(1));
    expect('also' in plain).toBe(false);
    expect(standsNotAt(two, note(1))).toBe(two);
  });

  test('loses only the places an eraser went over; with itself all go', () => {
    const three = standsAlso(note(1), [words(50), words(90)]);
    const [a, b] = echoesOf(three);
    const { marks, left } = erasedPlaces([a!, b!, note(9)]);
    expect(marks).toEqual([note(9)]);
    expect(left).toEqual([{ was: three, now: note(1) }]);
    expect(erasedPlaces([three, a!])).toEqual({ marks: [three], left: [] });
  });

  test('is made of several notes: the first stands, the others are its places', () => {
    const pattern = standsAlso(note(2), [words(60)]);
    const gathered = gatherNotes([note(1), pattern, note(70)]);
    expect(gathered?.gone.map((n) => n.id)).toEqual([pattern.id, note(70).id]);
    expect(gathered?.note.also).toEqual([words(60), words(70)]);
    expect(gatherNotes([note(1)])).toBeNull();
  });
});

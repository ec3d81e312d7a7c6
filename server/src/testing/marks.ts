import { type Change, type ChangeId, type DocumentId, type Mark, type MarkId, makeId } from '@jotmark/core';

let tick = Date.now();
/** Ids a millisecond apart, so that their order is the order they were made in. */
export const id = <T extends string>() => makeId(tick++, crypto.getRandomValues(new Uint8Array(10))) as T;

export const note = (document: DocumentId, words: string, more: Partial<Mark> = {}): Mark =>
  ({
    v: 2,
    id: id<MarkId>(),
    document,
    page: 0,
    colour: 'garnet',
    focus: null,
    madeAt: Date.now(),
    kind: 'note',
    place: { on: 'spot', x: 100, y: 100 },
    words,
    ...more,
  }) as Mark;

export const put = (mark: Mark, was: Mark | null = null, base: ChangeId | null = null): Change => ({
  id: id<ChangeId>(),
  base,
  type: 'put',
  mark,
  was,
});
export const grade = (value: number | null, base: ChangeId | null = null): Change => ({
  id: id<ChangeId>(),
  base,
  type: 'write',
  field: 'grade',
  value,
  was: null,
});
export const done = (value: boolean, base: ChangeId | null = null): Change => ({
  id: id<ChangeId>(),
  base,
  type: 'write',
  field: 'done',
  value,
  was: !value,
});
export const closing = (value: string, base: ChangeId | null = null): Change => ({
  id: id<ChangeId>(),
  base,
  type: 'write',
  field: 'closing',
  value,
  was: '',
});

import { makeId } from '@jotmark/core';

/** An id made here: what carries it counts once, however often it is sent. */
export function newId<T extends string>(): T {
  return makeId(Date.now(), crypto.getRandomValues(new Uint8Array(10))) as T;
}

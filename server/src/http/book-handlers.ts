import type { bookRoutes } from '@jotmark/core';
import { bringGrades } from '../mark-book/bring-grades.ts';
import { readMarkBook, saveBookRule } from '../mark-book/mark-book.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** The mark book of a class. */
export function bookHandlers({ house }: Parts): HandlersOf<typeof bookRoutes> {
  return {
    markBook: ({ params }) => readMarkBook(house, params.classId),
    bringGrades: ({ person, params, body }) => bringGrades(house, person, params.classId, body.works),
    saveBookRule: ({ params, body }) => done(saveBookRule(house, params.classId, body.rule)),
  };
}

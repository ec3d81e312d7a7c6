import type { logRoutes, outRoutes } from '@jotmark/core';
import { feedbackLog, lastWords, ownLogs, readClassLook } from '../log/log.ts';
import { addRemark, answerRemark, changeRemark, removeRemark } from '../log/remarks.ts';
import { reportsOf, saveReport } from '../log/report.ts';
import { orderMine, orderOut } from '../take-out/order.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';
import { orderedBy } from './ordered.ts';

/** What students are told, over all their work and without any. */
export function logHandlers({ house }: Parts): HandlersOf<typeof logRoutes> {
  return {
    feedbackLog: ({ person, params }) => feedbackLog(house, person, params.classId, params.personId),
    lastWords: ({ person, params }) => lastWords(house, person, params.classId),
    classLook: ({ params }) => readClassLook(house, params.classId),
    addRemark: ({ person, params, body }) => done(addRemark(house, person, params.classId, body)),
    changeRemark: ({ params, body }) => done(changeRemark(house, params.remarkId, body)),
    removeRemark: ({ params }) => done(removeRemark(house, params.remarkId)),
    answerRemark: ({ person, params, body }) => done(answerRemark(house, person, params.remarkId, body)),
    ownLogs: ({ person }) => ownLogs(house, person),
    reports: ({ params }) => reportsOf(house, params.classId, params.personId),
    saveReport: ({ person, params, body }) =>
      saveReport(house, person, params.classId, params.personId, body),
  };
}

/** What is taken out as a file. */
export function outHandlers(parts: Parts): HandlersOf<typeof outRoutes> {
  return {
    takeOut: ({ person, body }) => orderedBy(parts, orderOut(parts.house, person, body.order)),
    takeOutMine: ({ person }) => orderedBy(parts, orderMine(parts.house, person)),
  };
}

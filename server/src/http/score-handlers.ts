import type { scoreRoutes } from '@jotmark/core';
import { folderName } from '../blobs/file-name.ts';
import { Fault } from '../fault.ts';
import { releaseMidway } from '../hand-back/midway.ts';
import { changesSince } from '../marking/changes-since.ts';
import { takeChanges } from '../marking/take-changes.ts';
import { TablesAnswer } from '../opening/task.ts';
import { readPile } from '../pile/pile.ts';
import { Failed, QUICK } from '../programs/failed.ts';
import { rubricFile } from '../rubric/file.ts';
import { archiveRubric, makeRubric, readRubricOf, rubricsOf, saveRubric } from '../rubric/library.ts';
import { readAcross } from '../scoring/across.ts';
import { evenOut, undoEvening } from '../scoring/even-out.ts';
import { pileScores } from '../scoring/pile-scores.ts';
import { scoreSheet } from '../scoring/score-sheet.ts';
import { readScoringOf } from '../scoring/scoring-of.ts';
import { saveKey, setScoring } from '../scoring/set-scoring.ts';
import { SHEET_TYPES } from '../sheets/sheet-file.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';
import { receiveFile } from './receive.ts';

/** Scores: rubrics, how work is scored, what a pile was given, and evening it out. */
export function scoreHandlers(parts: Parts): HandlersOf<typeof scoreRoutes> {
  const { house } = parts;
  return {
    rubrics: ({ person }) => rubricsOf(house, person),
    makeRubric: async ({ person, body }) =>
      readRubricOf(house, person, await makeRubric(house, person, body.name, body.rubric)),
    rubric: ({ person, params }) => readRubricOf(house, person, params.rubricId),
    saveRubric: async ({ person, params, body }) => {
      await saveRubric(house, params.rubricId, body);
      return readRubricOf(house, person, params.rubricId);
    },
    archiveRubric: ({ params, body }) => done(archiveRubric(house, params.rubricId, body.away)),
    rubricFile: async ({ person, params, query, res }) => {
      const { rubric, name } = await readRubricOf(house, person, params.rubricId);
      const bytes = await rubricFile(rubric, name, query.as);
      res
        .set('Content-Type', SHEET_TYPES[query.as])
        .attachment(`${folderName(name)}.${query.as}`)
        .send(bytes);
      return undefined;
    },
    readTable: ({ req, res }) =>
      receiveFile(req, res, async ({ path, name }) => {
        const answer = await parts.opener
          .run({ op: 'read-tables', file: path, name }, QUICK)
          .catch((error: unknown) => {
            if (!(error instanceof Failed)) throw error;
            throw new Fault('no-table', { name, why: error.reason === 'broken' ? 'broken' : 'too-big' });
          });
        const read = TablesAnswer.parse(answer);
        if ('refused' in read) throw new Fault(read.refused.code, read.refused.facts);
        return { tables: read.tables };
      }),

    scoring: ({ params }) => readScoringOf(house.db.manager, params.assignmentId, house.now()),
    tryScoring: async ({ person, params, body }) => ({
      changes: await setScoring(house, person, params.assignmentId, body, false),
    }),
    saveScoring: async ({ person, params, body }) => {
      const changes = await setScoring(house, person, params.assignmentId, body, true);
      return { scoring: await readScoringOf(house.db.manager, params.assignmentId, house.now()), changes };
    },
    saveKey: ({ params, body }) => done(saveKey(house, params.worksheetId, params.questionId, body.key)),

    pileScores: async ({ person, params }) => {
      const { assignment, blind, rows } = await readPile(house, person, params.assignmentId);
      return pileScores(house, params.assignmentId, { ...assignment, blind, rows });
    },
    across: async ({ person, params }) => {
      const { assignment, rows } = await readPile(house, person, params.assignmentId);
      return readAcross(house, params.assignmentId, params.questionId, { ...assignment, rows });
    },
    evenOut: ({ person, params, body }) => evenOut(house, person, params.assignmentId, body),
    undoEvening: ({ person, params }) => undoEvening(house, person, params.assignmentId, params.eveningId),
    releaseMidway: ({ person, params, body }) =>
      releaseMidway(house, person, params.assignmentId, body.copyIds),

    scoreSheet: ({ params }) => scoreSheet(house, params.copyId),
    sendCopyMarking: ({ person, params, body }) =>
      takeChanges(house, person, { copyId: params.copyId }, body.changes),
    copyMarkingSince: ({ params, query }) => changesSince(house, { copyId: params.copyId }, query.after),
  };
}

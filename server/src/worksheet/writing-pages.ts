import {
  type AssignmentId,
  LINED_BOX,
  type PersonId,
  type QuestionId,
  type WorksheetId,
} from '@jotmark/core';
import { keepBytes } from '../blobs/blob.ts';
import { AssignmentTable } from '../database/entities/index.ts';
import { inTransaction } from '../database/transaction.ts';
import { find } from '../database/write.ts';
import { type House, newId } from '../house.ts';
import { linedPdf } from './lined-pdf.ts';
import { makeWorksheet } from './worksheet.ts';

/** Makes a worksheet that is nothing but pages to write on, named like its assignment: one question, whose text grows over as many lined pages as it takes. */
export async function makeWritingPages(
  house: House,
  owner: PersonId,
  assignmentId: AssignmentId,
  words: number | null,
): Promise<WorksheetId> {
  const assignment = await find(house.db.manager, AssignmentTable, { id: assignmentId });
  const original = await keepBytes(house.db, linedPdf(), house.now());
  const judged = { type: 'application/pdf', shows: 'pages', trouble: null, pages: 1, mended: false } as const;
  const page = { name: assignment?.title || 'Pages to write on', judged, original, opened: original.sha256 };
  const { id } = await inTransaction(house.db, (tx) =>
    makeWorksheet(
      house,
      tx,
      owner,
      [page],
      [
        {
          id: newId<QuestionId>(house),
          page: 0,
          box: LINED_BOX,
          part: false,
          label: null,
          points: null,
          answer: { kind: 'long', words },
        },
      ],
    ),
  );
  return id;
}

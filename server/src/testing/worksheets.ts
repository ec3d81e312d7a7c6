import { randomBytes } from 'node:crypto';
import { type AnswerKind, makeId, type Question, type QuestionId } from '@jotmark/core';
import type { Caller } from './house.ts';
import { plainPdf } from './pdfs.ts';

/** A worksheet of one page made from a PDF, or from what is given; gives its id. */
export async function madeWorksheet(
  teacher: Caller,
  files?: readonly [name: string, bytes: Uint8Array][],
): Promise<string> {
  const reply = await teacher.send(
    '/api/worksheets',
    files ?? [['Map work.pdf', await plainPdf(['1 Where is the hut?'])]],
  );
  if (reply.status !== 200) throw new Error(JSON.stringify(reply.body));
  return reply.body.id;
}

/** A question on the first page, `row` counted from the top. */
export function question(row: number, answer: AnswerKind, more: Partial<Question> = {}): Question {
  return {
    id: makeId(Date.now(), randomBytes(10)) as QuestionId,
    page: 0,
    box: [60, 100 + 60 * row, 360, 140 + 60 * row],
    part: false,
    label: null,
    points: 200,
    answer,
    ...more,
  };
}

/** Waits until the pages of a worksheet are there, or cannot be. */
export async function worksheetRead(teacher: Caller, worksheetId: string) {
  for (let tries = 0; tries < 1200; tries++) {
    const { body } = await teacher.call('worksheet', { params: { worksheetId } });
    if (!['queued', 'running'].includes(body.document.reading.state)) return body;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`Worksheet ${worksheetId} is still not read`);
}

import * as z from 'zod';
import { AnswerText } from '../changes/change.ts';
import { withMarksRead } from '../handback/snapshot.ts';
import { QuestionId, VersionId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import { type Reading, readVersioned } from '../versions/reading.ts';
import { LongText } from '../writing/long-text.ts';

/** What a hand-in froze of a student's own copy: of every worksheet its version, the answers and the drawing. */
export const HandInContent = z.object({
  v: z.literal(1),
  sheets: z.array(
    z.object({
      versionId: VersionId,
      answers: z.record(QuestionId, AnswerText),
      /** Answers that grow. */
      texts: z.record(QuestionId, LongText).optional(),
      marks: z.array(Mark),
    }),
  ),
});
export type HandInContent = z.infer<typeof HandInContent>;

/** Reads what was handed in, of any version there ever was. */
export function readHandInContent(raw: unknown): Reading<HandInContent> {
  const sheets = (raw as { sheets?: unknown } | null)?.sheets;
  return readVersioned(
    Array.isArray(sheets) ? { ...(raw as object), sheets: sheets.map(withMarksRead) } : raw,
    [],
    HandInContent,
  );
}

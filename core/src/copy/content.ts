import * as z from 'zod';
import { AnswerText } from '../changes/change.ts';
import { QuestionId, VersionId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';

/** What a hand-in froze of a student's own copy: of every worksheet its version, the answers and the drawing. */
export const HandInContent = z.object({
  v: z.literal(1),
  sheets: z.array(
    z.object({
      versionId: VersionId,
      answers: z.record(QuestionId, AnswerText),
      marks: z.array(Mark),
    }),
  ),
});
export type HandInContent = z.infer<typeof HandInContent>;

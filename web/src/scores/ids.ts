import type { QuestionId } from '@jotmark/core';

/** How a question's field is found, to go on to it by a key. */
export const tallyFieldId = (id: QuestionId): string => `points-of-${id}`;

/** And the levels of a criterion. */
export const criterionRowId = (id: string): string => `criterion-${id}`;

import * as z from 'zod';

/** Errors are a code plus facts; the sentences live in web. */
export const ErrorCode = z.enum([
  'bad-input',
  'not-signed-in',
  'wrong-password',
  'too-many-attempts',
  'not-yours',
  'not-found',
  'stale-page',
  'file-empty',
  'file-too-big',
  'file-not-pdf',
  'file-damaged',
  'file-password',
  'file-too-many-pages',
  'file-page-too-big',
  'file-slow',
  'upload-cut-off',
  'already-handed-in',
  'nothing-to-hand-in',
  'nothing-marked',
  'marking-begun',
  'taken-back',
  'not-handed-in',
  'not-open-yet',
  'bank-full',
  'file-bomb',
  'picture-too-big',
  'picture-broken',
  'too-many-files',
  'file-not-pages',
  'login-taken',
  'no-such-teacher',
  'last-teacher',
  'changed-elsewhere',
  'grade-above',
  'draft-incomplete',
  'already-set',
  'wrong-old-password',
  'database-away',
  'busy',
  'unreadable',
  'not-your-student',
  'not-your-worksheet',
  'voice-broken',
  'voice-not-ready',
  'unexpected',
]);
export type ErrorCode = z.infer<typeof ErrorCode>;

export const ErrorBody = z.object({
  error: z.object({ code: ErrorCode, facts: z.record(z.string(), z.union([z.string(), z.number()])) }),
});
export type ErrorBody = z.infer<typeof ErrorBody>;

/** What the middleware answers for a code. */
export const STATUS_OF: Readonly<Record<ErrorCode, number>> = {
  'bad-input': 400,
  'not-signed-in': 401,
  'wrong-password': 401,
  'too-many-attempts': 429,
  'not-yours': 403,
  'not-found': 404,
  'stale-page': 403,
  'file-empty': 422,
  'file-too-big': 413,
  'file-not-pdf': 415,
  'file-damaged': 422,
  'file-password': 422,
  'file-too-many-pages': 422,
  'file-page-too-big': 422,
  'file-slow': 422,
  'upload-cut-off': 400,
  'already-handed-in': 409,
  'nothing-to-hand-in': 409,
  'nothing-marked': 409,
  'marking-begun': 409,
  'taken-back': 409,
  'not-handed-in': 409,
  'not-open-yet': 409,
  'bank-full': 409,
  'file-bomb': 422,
  'picture-too-big': 422,
  'picture-broken': 422,
  'too-many-files': 422,
  'file-not-pages': 415,
  'login-taken': 409,
  'no-such-teacher': 404,
  'last-teacher': 409,
  'changed-elsewhere': 409,
  'grade-above': 409,
  'draft-incomplete': 409,
  'already-set': 409,
  'wrong-old-password': 403,
  'database-away': 503,
  busy: 503,
  unreadable: 409,
  'not-your-student': 403,
  'not-your-worksheet': 403,
  'voice-broken': 422,
  'voice-not-ready': 409,
  unexpected: 500,
};

/** Limits on an uploaded file. Sides in points. */
export const FILE_LIMITS = { bytes: 50 * 1024 * 1024, pages: 500, side: 14_400, name: 200 } as const;

/** Limits on a picture, in pixels: a larger one is not even opened. */
export const MOST_PIXELS_OF_A_PICTURE = 150_000_000;
/** Files of one copy, or of one worksheet. */
export const MOST_FILES = 30;

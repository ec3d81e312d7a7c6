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
  'database-away',
  'busy',
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
  'database-away': 503,
  busy: 503,
  unexpected: 500,
};

/** Limits on an uploaded file. Sides in points. */
export const FILE_LIMITS = { bytes: 50 * 1024 * 1024, pages: 500, side: 14_400, name: 200 } as const;

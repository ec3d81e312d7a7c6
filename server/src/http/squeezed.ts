import { constants } from 'node:zlib';
import compression from 'compression';
import type { RequestHandler } from 'express';

/** Below this many bytes an answer travels as fast as it is. */
const WORTH_IT = 1400;

/** Answers in JSON are compressed, quickly rather than well. Hints are not: they must leave at once; nor files, which are small already. */
export function squeezed(): RequestHandler {
  return compression({
    threshold: WORTH_IT,
    level: 4,
    brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 3 } },
    filter: (_req, res) => String(res.getHeader('Content-Type')).startsWith('application/json'),
  });
}

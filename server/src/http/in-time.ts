import type { ErrorBody } from '@jotmark/core';
import { STATUS_OF } from '@jotmark/core';
import type { RequestHandler, Response } from 'express';
import type { Pulse } from '../database/pulse.ts';
import { Fault } from '../fault.ts';

/** While the database says nothing, whoever waits for it is told so within seconds. What was being done may still be done when it is back: everything can be sent twice. */
export function answersInTime(pulse: Pulse): RequestHandler {
  const waiting = new Set<Response>();
  pulse.onMissed(() => {
    for (const res of waiting) if (res.req.complete && !res.headersSent) tellAway(res);
  });
  return (req, res, next) => {
    if (!req.path.startsWith('/api/')) return next();
    if (pulse.away) throw new Fault('database-away');
    waiting.add(res);
    res.once('close', () => waiting.delete(res));
    next();
  };
}

function tellAway(res: Response): void {
  const body: ErrorBody = { error: { code: 'database-away', facts: {} } };
  res.status(STATUS_OF['database-away']).json(body);
}

/** Of a file, so much must come in each span: a slow line is one thing, a line that is held open another. */
const LEAST_BYTES = 32 * 1024;

/** A body comes within the span; of a file, some of it in each. Else the line is closed: who sends on purpose a letter a minute holds nothing of ours for long. */
export function comesInTime(spanMs: number): RequestHandler {
  return (req, res, next) => {
    if (req.method === 'GET' || req.complete) return next();
    const isFile = req.headers['content-type']?.startsWith('multipart/') === true;
    const { socket } = req;
    let before = socket.bytesRead;
    const clock = setInterval(() => {
      if (req.complete || req.destroyed) return clearInterval(clock);
      const now = socket.bytesRead;
      if (isFile && now - before >= LEAST_BYTES) {
        before = now;
        return;
      }
      clearInterval(clock);
      if (res.headersSent) return void socket.destroy();
      const body: ErrorBody = { error: { code: 'too-slow', facts: { seconds: Math.round(spanMs / 1000) } } };
      res.once('finish', () => socket.destroy());
      res.status(STATUS_OF['too-slow']).set('Connection', 'close').json(body);
    }, spanMs);
    req.once('close', () => clearInterval(clock));
    next();
  };
}

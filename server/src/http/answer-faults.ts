import { type ErrorBody, type ErrorCode, STATUS_OF } from '@jotmark/core';
import type { ErrorRequestHandler } from 'express';
import { Unreadable } from '../database/stored.ts';
import { codeOf } from '../database/transaction.ts';
import { Fault } from '../fault.ts';
import type { House } from '../house.ts';

const AWAY = new Set([
  'ECONNREFUSED',
  'PROTOCOL_CONNECTION_LOST',
  'ECONNRESET',
  'ER_SERVER_SHUTDOWN',
  'ENOENT',
  'EPIPE',
]);
const FULL = new Set(['ER_RECORD_FILE_FULL', 'ER_DISK_FULL', 'ENOSPC']);

/** The one place where an error becomes HTTP: expected ones by their code, all others logged and called unexpected. */
export function answerFaults(house: House): ErrorRequestHandler {
  return (error, req, res, _next) => {
    // Who waited too long for the database was told so; what came of it in the end is of no use to anybody. Nor is anything to who has gone away.
    if (res.writableFinished || codeOf(error) === 'ERR_STREAM_PREMATURE_CLOSE') return;
    const fault = asFault(error);
    if (
      fault.code === 'unexpected' ||
      fault.code === 'database-away' ||
      fault.code === 'busy' ||
      fault.code === 'unreadable'
    )
      house.log.error({ err: error, method: req.method, path: req.path }, fault.code);
    if (res.headersSent || req.socket.destroyed) {
      res.destroy();
      return;
    }
    const body: ErrorBody = { error: { code: fault.code, facts: fault.facts } };
    res.status(STATUS_OF[fault.code]).json(body);
  };
}

function asFault(error: unknown): Fault {
  if (error instanceof Fault) return error;
  if (error instanceof Unreadable) return new Fault('unreadable', { what: error.table });
  const code = codeOf(error);
  if (AWAY.has(code)) return new Fault('database-away');
  if (FULL.has(code)) return new Fault('busy', { what: 'disk' });
  const status = (error as { status?: number }).status;
  const type = (error as { type?: string }).type ?? '';
  if (type === 'entity.too.large') return new Fault('bad-input', { what: 'size' });
  if (status === 400) return new Fault('bad-input', { what: 'body' });
  const unexpected: ErrorCode = 'unexpected';
  return new Fault(unexpected);
}

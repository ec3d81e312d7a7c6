import type { ErrorCode } from '@jotmark/core';

/** An expected misfit on its way to the one middleware that turns codes into HTTP. */
export class Fault extends Error {
  readonly code: ErrorCode;
  readonly facts: Record<string, string | number>;

  constructor(code: ErrorCode, facts: Record<string, string | number> = {}) {
    super(`${code} ${JSON.stringify(facts)}`);
    this.code = code;
    this.facts = facts;
  }
}

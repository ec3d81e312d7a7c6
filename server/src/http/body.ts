import type { IncomingMessage, ServerResponse } from 'node:http';
import { Fault } from '../fault.ts';

/** Nothing of ours is nested deeper: a change in a batch with a quote in a mark stands at seven, lists in lists of instructions at twenty-two. */
const DEEPEST = 40;

/** Looks at the brackets of a body before it is parsed: a parser that goes ten thousand levels down stands still for seconds. */
export function notTooDeep(_req: IncomingMessage, _res: ServerResponse, bytes: Buffer): void {
  let depth = 0;
  let inText = false;
  for (let i = 0; i < bytes.length; i++) {
    const c = bytes[i];
    if (inText) {
      if (c === BACKSLASH) i++;
      else if (c === QUOTE) inText = false;
    } else if (c === QUOTE) inText = true;
    else if (c === OPEN_LIST || c === OPEN_OBJECT) {
      if (++depth > DEEPEST) throw new Fault('bad-input', { what: 'body', why: 'nested too deeply' });
    } else if (c === CLOSE_LIST || c === CLOSE_OBJECT) depth--;
  }
}

const [QUOTE, BACKSLASH, OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT] = [...'"\\[]{}'].map((c) =>
  c.charCodeAt(0),
);

import type { IncomingMessage, ServerResponse } from 'node:http';
import { Fault } from '../fault.ts';

/** Nothing of ours is nested deeper: a change in a batch with a quote in a mark stands at seven, lists in lists of instructions at twenty-two. */
const DEEPEST = 40;
/** Nor has anything as many parts: two hundred changes of marks with fifty answers each have two thirds of it. What has more costs a parser longer than everybody else may wait. */
const MOST_TEXTS = 150_000;
const MOST_LISTS = 75_000;

/** Looks at the brackets and quotes of a body before it is parsed: a parser that goes ten thousand levels down, or makes half a million parts, stands still for long. */
export function notTooMuch(_req: IncomingMessage, _res: ServerResponse, bytes: Buffer): void {
  let depth = 0;
  let lists = 0;
  let quotes = 0;
  let inText = false;
  // Letters as numbers: a look at a large body is to take milliseconds.
  for (let i = 0; i < bytes.length; i++)
    switch (bytes[i]) {
      // A backslash: what follows ends nothing.
      case 92:
        i++;
        break;
      // A quote.
      case 34:
        inText = !inText;
        quotes++;
        break;
      // An opened list or object.
      case 91:
      case 123:
        if (inText) break;
        lists++;
        if (++depth > DEEPEST) throw new Fault('bad-input', { what: 'body', why: 'nested too deeply' });
        break;
      // A closed one.
      case 93:
      case 125:
        if (!inText) depth--;
        break;
    }
  if (quotes > 2 * MOST_TEXTS || lists > MOST_LISTS)
    throw new Fault('bad-input', { what: 'body', why: 'too many parts' });
}

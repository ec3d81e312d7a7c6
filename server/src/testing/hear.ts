import type { Caller } from './house.ts';

// biome-ignore lint/suspicious/noExplicitAny: what a test looks for in it, it looks for by its own name
type Hint = any;

/** A line to the server: what it says as it comes, until it is hung up. */
export async function hear(caller: Caller, path: string) {
  const stop = new AbortController();
  const response = await caller.raw('GET', path, { signal: stop.signal });
  const hints: Hint[] = [];
  const reading = (async () => {
    for await (const part of response.body!.pipeThrough(new TextDecoderStream()))
      for (const [, data] of part.matchAll(/^data: (.*)$/gm)) hints.push(JSON.parse(data!));
  })().catch(() => {});
  return {
    status: response.status,
    type: response.headers.get('content-type'),
    hints,
    hangUp: async () => {
      stop.abort();
      await reading;
    },
  };
}

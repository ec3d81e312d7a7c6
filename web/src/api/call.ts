import addresses from 'virtual:addresses';
import {
  BatchAnswer,
  type BodyOf,
  CopyBatchAnswer,
  ErrorBody,
  type ErrorCode,
  type ParamsOf,
  type QueryOf,
  type ReplyOf,
  type RouteName,
  type Routes,
} from '@jotmark/core';

/** An answer of the server that is not the one asked for; `offline` when there was no answer at all. */
export class CallFailed extends Error {
  readonly code: ErrorCode | 'offline';
  readonly facts: Readonly<Record<string, string | number>>;

  constructor(code: ErrorCode | 'offline', facts: Record<string, string | number> = {}) {
    super(code);
    this.code = code;
    this.facts = facts;
  }
}

let token = '';

/** The token that goes with every change; the session's answer brings it. */
export function takeToken(session: { token: string }): void {
  token = session.token;
}

type Input<N extends RouteName> = {
  params?: ParamsOf<Routes[N]>;
  query?: QueryOf<Routes[N]>;
  body?: BodyOf<Routes[N]>;
  signal?: AbortSignal;
};

export function addressOf<N extends RouteName>(
  name: N,
  params: Partial<Record<string, string>> = {},
): string {
  return addresses[name][1].replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(params[key] ?? ''));
}

/** Calls one route of the contract. Throws CallFailed with the server's code, or `offline`. */
export async function call<N extends RouteName>(name: N, input: Input<N> = {}): Promise<ReplyOf<Routes[N]>> {
  const [method] = addresses[name];
  const query = input.query ? `?${new URLSearchParams(input.query as Record<string, string>)}` : '';
  const response = await send(addressOf(name, input.params as Record<string, string>) + query, {
    method,
    headers: {
      ...(method === 'GET' ? {} : { 'x-jotmark-token': token }),
      ...(input.body === undefined ? {} : { 'content-type': 'application/json' }),
    },
    ...(input.body === undefined ? {} : { body: JSON.stringify(input.body) }),
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return checked(name, (await response.json()) as unknown);
}

/** What drives that something is kept or dropped is always held against its route; in development and tests every reply is. */
const ALWAYS: Partial<Record<RouteName, { safeParse(reply: unknown): { success: boolean } }>> = {
  sendChanges: BatchAnswer,
  sendCopyMarking: BatchAnswer,
  sendCopyChanges: CopyBatchAnswer,
};

/** A reply that does not fit its route is not believed: it would have this page show or drop what it should not. */
async function checked<N extends RouteName>(name: N, reply: unknown): Promise<ReplyOf<Routes[N]>> {
  const shape = import.meta.env.DEV ? (await import('@jotmark/core')).routes[name].reply : ALWAYS[name];
  if (shape && !shape.safeParse(reply).success) {
    console.error(`The answer of ${name} does not fit its route`);
    throw new CallFailed('unexpected');
  }
  return reply as ReplyOf<Routes[N]>;
}

/** The bytes behind a route. */
export async function callBytes(
  name: 'documentFile' | 'pdfFile',
  params: Record<string, string>,
  signal?: AbortSignal,
): Promise<ArrayBuffer> {
  const response = await send(addressOf(name, params), { ...(signal ? { signal } : {}) });
  return response.arrayBuffer().catch(() => {
    throw new CallFailed('offline');
  });
}

async function send(address: string, init: RequestInit): Promise<Response> {
  const response = await fetch(address, init).catch((error: unknown) => {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new CallFailed('offline');
  });
  if (response.ok) return response;
  throw failure(await response.text().catch(() => ''));
}

function failure(text: string): CallFailed {
  try {
    const { error } = ErrorBody.parse(JSON.parse(text));
    return new CallFailed(error.code, error.facts);
  } catch {
    return new CallFailed('unexpected');
  }
}

/** Uploads a file, or several in one go, with progress, 0…1. `fetch` cannot tell how much was sent, so this is the older way. */
export function upload<R>(
  address: string,
  files: File | readonly File[],
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<R> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', address);
    request.setRequestHeader('x-jotmark-token', token);
    request.upload.onprogress = (e) => e.lengthComputable && onProgress(e.loaded / e.total);
    request.onload = () =>
      request.status === 200
        ? resolve(JSON.parse(request.responseText))
        : reject(failure(request.responseText));
    request.onerror = () => reject(new CallFailed('offline'));
    request.onabort = () => reject(new CallFailed('upload-cut-off'));
    signal.addEventListener('abort', () => request.abort());
    const form = new FormData();
    for (const file of files instanceof File ? [files] : files) form.append('file', file);
    request.send(form);
  });
}

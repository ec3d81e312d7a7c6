import {
  type BodyOf,
  ErrorBody,
  type ErrorCode,
  type ParamsOf,
  type QueryOf,
  type ReplyOf,
  type RouteName,
  type Routes,
  routes,
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
  return routes[name].path.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(params[key] ?? ''));
}

/** Calls one route of the contract. Throws CallFailed with the server's code, or `offline`. */
export async function call<N extends RouteName>(name: N, input: Input<N> = {}): Promise<ReplyOf<Routes[N]>> {
  const route = routes[name];
  const query = input.query ? `?${new URLSearchParams(input.query as Record<string, string>)}` : '';
  const response = await send(addressOf(name, input.params as Record<string, string>) + query, {
    method: route.method,
    headers: {
      ...(route.method === 'GET' ? {} : { 'x-jotmark-token': token }),
      ...(input.body === undefined ? {} : { 'content-type': 'application/json' }),
    },
    ...(input.body === undefined ? {} : { body: JSON.stringify(input.body) }),
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return checked(name, await response.json());
}

/** Whether every reply is held against its route: in development and tests. What drives that something is kept or dropped always is. */
const CHECK_ALL = import.meta.env.DEV;
const ALWAYS: ReadonlySet<RouteName> = new Set(['sendChanges', 'sendCopyChanges']);

/** A reply that does not fit its route is not believed: it would have this page show or drop what it should not. */
function checked<N extends RouteName>(name: N, reply: unknown): ReplyOf<Routes[N]> {
  if (CHECK_ALL || ALWAYS.has(name)) {
    const fits = routes[name].reply.safeParse(reply);
    if (!fits.success) {
      console.error(`The answer of ${name} does not fit its route`, fits.error.issues[0]);
      throw new CallFailed('unexpected');
    }
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

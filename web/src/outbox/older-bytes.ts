import { base64Of, bytesIn, type Change, type Digest, digestOf } from '@jotmark/core';
import { call } from '../api/call.ts';

/** Bytes that lay in changes which an older program kept in this browser: they go to the server before what names them. */
const waiting = new Map<Digest, Uint8Array>();

export function keepOlderBytes(bytes: Uint8Array): Digest {
  const digest = digestOf(bytes);
  waiting.set(digest, bytes);
  return digest;
}

/** Sends what these changes name and the server may not have yet. */
export async function sendOlderBytes(changes: readonly Change[]): Promise<void> {
  if (waiting.size === 0) return;
  for (const change of changes) {
    if (change.type !== 'put') continue;
    for (const digest of bytesIn(change.mark) as readonly Digest[]) {
      const bytes = waiting.get(digest);
      if (!bytes) continue;
      await call('keepPicture', { body: { base64: base64Of(bytes) } });
      waiting.delete(digest);
    }
  }
}

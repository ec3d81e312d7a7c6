import { type Digest, prepareVoice, type VoiceMeter } from '@jotmark/core';
import { encodeVoice } from './encode.ts';
import type { Ready } from './voice-messages.ts';

/** By the browser's own means: a microphone is only ever given to pages that have them. */
export async function digestOf(bytes: ArrayBuffer): Promise<Digest> {
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(hash, (byte) => byte.toString(16).padStart(2, '0')).join('') as Digest;
}

/**
 * A take's parts made one recording that is ready to be kept; null: nothing was said. `meter` is what was measured while it was recorded; without it it is measured
 * now. `whole`: nothing is taken off its ends.
 */
export async function makeReady(
  parts: readonly Int16Array[],
  whole: boolean,
  meter?: VoiceMeter,
): Promise<Ready | null> {
  const all = new Float32Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) for (let i = 0; i < part.length; i++) all[at++] = part[i]! / 32_767;
  const made = prepareVoice(all, meter ? { meter, whole } : { whole });
  if (!made) return null;
  const { bytes, type } = await encodeVoice(made);
  const { ms, peaks, cutMs } = made;
  return { bytes, type, file: await digestOf(bytes), ms, peaks, cutMs };
}

import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Digest, digestOf, type Recording, VOICE_PART, type VoiceType } from '@jotmark/core';
import { ROOT } from './floors.ts';
import type { Caller } from './house.ts';

/** A made-up teacher's sentence, as the stand-in microphone says it: Ogg with Opus. */
export const spoken = (name = 'scale'): Buffer => readFileSync(join(ROOT, `school/assets/voice/${name}.ogg`));

export const recordingOfBytes = (bytes: Uint8Array, more: Partial<Recording> = {}): Recording => ({
  file: digestOf(bytes),
  type: 'audio/ogg',
  ms: 7000,
  peaks: Array.from({ length: 80 }, (_, i) => (i * 7) % 101),
  captions: [{ at: 0, words: 'Good, you wrote down the scale first.' }],
  ...more,
});

/** The parts in which a recording travels. */
export function partsOf(bytes: Uint8Array, type: VoiceType = 'audio/ogg') {
  const of = Math.max(1, Math.ceil(bytes.length / VOICE_PART));
  return Array.from({ length: of }, (_, n) => ({
    type,
    n,
    of,
    base64: Buffer.from(bytes.subarray(n * VOICE_PART, (n + 1) * VOICE_PART)).toString('base64'),
  }));
}

/** Keeps a recording as a desk does, part by part. */
export async function keepSpoken(
  caller: Caller,
  bytes: Uint8Array,
  type: VoiceType = 'audio/ogg',
): Promise<Digest> {
  const file = digestOf(bytes);
  for (const body of partsOf(bytes, type)) {
    const reply = await caller.call('keepVoicePart', { params: { file }, body });
    if (reply.status !== 200) throw new Error(JSON.stringify(reply.body));
  }
  return file;
}

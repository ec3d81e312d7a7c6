import { base64Of, type Change, type Digest, recordingOf, VOICE_PART } from '@jotmark/core';
import { call } from '../api/call.ts';
import type { Device, KeptBytes } from './device.ts';

/** The recordings that a change names. */
export function recordingsNamed(changes: readonly Change[]): Digest[] {
  return changes.flatMap((c) => {
    if (c.type === 'put') return recordingOf(c.mark)?.file ?? [];
    return c.type === 'write' && c.field === 'voice' && c.value ? c.value.file : [];
  });
}

/**
 * Bytes that changes name: on this device until the server has them, and sent before the change that names them. Where the browser keeps nothing they
 * are in this tab.
 */
export class BytesToSend {
  readonly #device: () => Promise<Device | null>;
  readonly #here = new Map<Digest, KeptBytes>();

  constructor(device: () => Promise<Device | null>) {
    this.#device = device;
  }

  async keep(file: Digest, kept: KeptBytes): Promise<void> {
    this.#here.set(file, kept);
    const device = await this.#device();
    await device?.keepBytes(file, kept).catch(() => {});
  }

  /** Those that the server does not have yet; null: it has them, or they were never here. */
  async find(file: Digest): Promise<KeptBytes | null> {
    const here = this.#here.get(file);
    if (here) return here;
    const device = await this.#device();
    return (await device?.bytes(file).catch(() => undefined)) ?? null;
  }

  /** Sends what these changes name and is here. What the server has of it already does not travel again, however often the network breaks. */
  async sendFor(changes: readonly Change[]): Promise<void> {
    for (const file of new Set(recordingsNamed(changes))) {
      const kept = await this.find(file);
      if (!kept) continue;
      await sendParts(file, kept);
      this.#here.delete(file);
      const device = await this.#device();
      await device?.forgetBytes(file).catch(() => {});
    }
  }
}

async function sendParts(file: Digest, { type, bytes }: KeptBytes): Promise<void> {
  const of = Math.max(1, Math.ceil(bytes.byteLength / VOICE_PART));
  let missing: readonly number[] = [0];
  while (missing.length) {
    const n = missing[0]!;
    const part = new Uint8Array(bytes.slice(n * VOICE_PART, (n + 1) * VOICE_PART));
    ({ missing } = await call('keepVoicePart', {
      params: { file },
      body: { type, n, of, base64: base64Of(part) },
    }));
  }
}

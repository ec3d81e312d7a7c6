import type { Digest, VoiceType } from '@jotmark/core';
import type { Take } from './takes.ts';

/** A recording made ready. */
export interface Ready {
  readonly bytes: ArrayBuffer;
  readonly type: VoiceType;
  readonly file: Digest;
  readonly ms: number;
  readonly peaks: readonly number[];
  /** Silence taken off its beginning, in ms. */
  readonly cutMs: number;
}

export type ToVoiceWorker =
  /** Samples will come through this port, at this rate. */
  | { readonly kind: 'listen'; readonly port: MessagePort; readonly rate: number }
  | { readonly kind: 'begin'; readonly take: Take }
  /** What is known of a take beside its sound. */
  | { readonly kind: 'note'; readonly take: Take }
  | { readonly kind: 'clip-part'; readonly id: string; readonly n: number; readonly bytes: ArrayBuffer }
  /** It is over: make it ready. Of sound its last samples are still on their way. */
  | { readonly kind: 'finish'; readonly id: string }
  | { readonly kind: 'drop'; readonly id: string }
  | { readonly kind: 'forget'; readonly id: string }
  /** A take that an earlier tab left. */
  | { readonly kind: 'recover'; readonly id: string };

export type FromVoiceWorker =
  | { readonly kind: 'heard'; readonly id: string; readonly ms: number; readonly level: number }
  /** The longest a recording may be is reached. */
  | { readonly kind: 'full'; readonly id: string }
  /** This device keeps no more: what is said is only in memory. */
  | { readonly kind: 'not-kept'; readonly id: string }
  /** Null: nothing was said. */
  | { readonly kind: 'ready'; readonly take: Take; readonly ready: Ready | null }
  | { readonly kind: 'failed'; readonly take: Take; readonly why: string };

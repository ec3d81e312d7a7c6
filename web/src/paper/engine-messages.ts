import type { QuarterTurn } from '@jotmark/core';

export type ToWorker = { readonly id: number } & (
  | { readonly kind: 'warm' }
  | { readonly kind: 'open'; readonly key: string; readonly bytes: ArrayBuffer }
  | { readonly kind: 'close'; readonly key: string }
  | {
      readonly kind: 'draw';
      readonly key: string;
      readonly page: number;
      readonly width: number;
      readonly height: number;
      readonly turn: QuarterTurn;
    }
);

export type FromWorker = { readonly id: number } & (
  | { readonly ok: true; readonly bitmap: ImageBitmap | null }
  | { readonly ok: false; readonly error: string }
);

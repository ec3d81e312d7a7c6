import type { CopyId, HandInId } from '@jotmark/core';
import type { AloneId, SheetId } from './device.ts';

/** The marking of a copy to which nothing came in. */
export const aloneSheet = (copyId: CopyId): AloneId => `alone:${copyId}`;

/** The copy of such a marking; null: it is another sheet. */
export const copyOfAlone = (id: string): CopyId | null =>
  id.startsWith('alone:') ? (id.slice('alone:'.length) as CopyId) : null;

/** Where a copy of a pile is marked: at its newest hand-in, or alone where nothing came in. */
export const sheetOfRow = (row: { readonly copyId: CopyId; readonly handInId: HandInId | null }): SheetId =>
  row.handInId ?? aloneSheet(row.copyId);

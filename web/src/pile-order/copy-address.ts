import type { PileRow } from '@jotmark/core';

/** Where a copy of a pile is marked: at the desk, or without pages where nothing came in. */
export const addressOfCopy = (row: Pick<PileRow, 'copyId' | 'handInId'>): string =>
  row.handInId ? `/desk/${row.copyId}` : `/score/${row.copyId}`;

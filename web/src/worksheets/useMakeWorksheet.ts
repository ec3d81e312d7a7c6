import type { WorksheetId } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { outcomeThat, sendFiles } from '../api/order.ts';
import { useTell } from '../ask/stale.ts';

/** Makes a worksheet of chosen files, with progress; several become one, in the order they were chosen. */
export function useMakeWorksheet(made: (id: WorksheetId) => void) {
  const tell = useTell();
  const [share, setShare] = useState<number | null>(null);
  const { mutate, error } = useMutation({
    mutationFn: (files: readonly File[]) =>
      sendFiles('makeWorksheet', {}, files, { onSent: setShare }).then((o) => outcomeThat('worksheet', o)),
    onSuccess: ({ id }) => {
      tell('worksheetChanged', {});
      made(id);
    },
    onSettled: () => setShare(null),
  });
  return { start: (files: readonly File[]) => files.length > 0 && mutate(files), share, error };
}

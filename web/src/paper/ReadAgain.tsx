import type { DocumentId } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { pagesQuery } from './documents.ts';

/** For a document whose pages could not be read: once more, please. */
export function ReadAgain({ documentId }: { documentId: DocumentId }) {
  const client = useQueryClient();
  const again = useMutation({
    mutationFn: () => call('documentAgain', { params: { documentId } }),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: pagesQuery(documentId).queryKey });
      for (const shown of ['work', 'desk']) client.invalidateQueries({ queryKey: [shown] });
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
  return (
    <button
      type="button"
      className="text-action underline"
      disabled={again.isPending}
      onClick={() => again.mutate()}
    >
      Try to read it again
    </button>
  );
}

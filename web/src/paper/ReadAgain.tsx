import type { DocumentId } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';

/** For a document whose pages could not be read: once more, please. */
export function ReadAgain({ documentId }: { documentId: DocumentId }) {
  const tell = useTell();
  const again = useMutation({
    mutationFn: () => call('documentAgain', { params: { documentId } }),
    onSuccess: () => {
      tell('pagesReadAgain', { documentId });
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

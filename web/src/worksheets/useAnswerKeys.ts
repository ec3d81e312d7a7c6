import type { AnswerKey, QuestionId, WorksheetId, WorksheetShape } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';

/** Keeps what an answer should be; it is shown at once, and back as it was where it could not be kept. */
export function useAnswerKeys(worksheetId: WorksheetId) {
  const client = useQueryClient();
  return async (questionId: QuestionId, key: AnswerKey | null): Promise<void> => {
    const at = keys.worksheet(worksheetId);
    const before = client.getQueryData<WorksheetShape>(at);
    client.setQueryData(at, (old: WorksheetShape | undefined) => {
      if (!old) return old;
      const { [questionId]: _, ...others } = old.keys;
      return { ...old, keys: key ? { ...others, [questionId]: key } : others };
    });
    try {
      await call('saveKey', { params: { worksheetId, questionId }, body: { key } });
      tell(client, 'keyChanged', {});
    } catch (error) {
      client.setQueryData(at, before);
      toast.error(sentenceOf(error));
    }
  };
}

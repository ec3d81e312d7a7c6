import type { ClassId } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';

/** Begins a draft for a class and leads to it. */
export function useNewWork(classId: ClassId) {
  const tell = useTell();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: () => call('startAssignment', { params: { classId } }),
    onSuccess: (sheet) => {
      tell('assignmentStarted', { classId });
      navigate(`/assignments/${sheet.id}`);
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
}

import type { AssignmentSheet } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { toast } from '../frame/toast.ts';
import { useWhenRead } from './useWhenRead.ts';

interface Props {
  readonly sheet: AssignmentSheet;
  /** What must be kept before it is tried. */
  before(): Promise<void>;
  onChanged(sheet: AssignmentSheet): void;
}

/** The teacher goes the whole way of this work alone, before students do. */
export function TrialPart({ sheet, before, onChanged }: Props) {
  const navigate = useNavigate();
  const of = { params: { assignmentId: sheet.id } };
  const changed = async () => onChanged(await call('assignment', of));
  const start = useMutation({
    mutationFn: async () => {
      await before();
      return call('startTrial', of);
    },
    onSuccess: async ({ copyId }) => {
      await changed();
      navigate(`/trial/${copyId}`);
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const { wish, drop, waitsFor } = useWhenRead(sheet, start.mutate);
  const end = useMutation({
    mutationFn: () => call('endTrial', of),
    onSuccess: () => void toast.success('The trial run is gone, with all you did in it.'),
    onError: (error) => void toast.error(sentenceOf(error)),
    onSettled: changed,
  });
  const { trial } = sheet;
  return (
    <section className="rounded-lg bg-raised p-4 shadow-sm" aria-label="Trial run">
      <h2 className="mb-1 font-bold">Trial run</h2>
      {trial ? (
        <>
          <ul className="space-y-1">
            <li>
              <Link to={`/trial/${trial.copyId}`} className="text-action underline">
                Your copy, as a student has it
              </Link>
            </li>
            <li>
              <Link to={`/piles/${trial.assignmentId}`} className="text-action underline">
                Its pile, to mark it and hand it back
              </Link>
            </li>
          </ul>
          <button type="button" className="quiet mt-3" disabled={end.isPending} onClick={() => end.mutate()}>
            End the trial run
          </button>
        </>
      ) : (
        <>
          <p className="text-sm text-soft">
            Fill it in, hand it in, mark it and get it back yourself, as it is now. No student sees it, and it
            counts nowhere.
          </p>
          {waitsFor === null ? (
            <button type="button" className="quiet mt-2" disabled={start.isPending} onClick={wish}>
              Start a trial run
            </button>
          ) : (
            <p role="status" className="mt-2">
              The pages of “{waitsFor}” are being made. As soon as they are there it starts.{' '}
              <button type="button" className="text-action underline" onClick={drop}>
                Do not wait
              </button>
            </p>
          )}
        </>
      )}
    </section>
  );
}

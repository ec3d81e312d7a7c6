import {
  type AssignmentId,
  type EveningShape,
  formatPoints,
  formatSigned,
  type PileScores,
} from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { tell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';
import { When } from '../frame/When.tsx';
import { plural } from '../time/words.ts';

/** When this pile was evened out, how and why; each can be undone where its grades still stand. */
export function Evenings({
  scores,
  assignmentId,
  onDone,
}: {
  scores: PileScores;
  assignmentId: AssignmentId;
  onDone(): void;
}) {
  const client = useQueryClient();
  const undo = useMutation({
    mutationFn: (evening: EveningShape) =>
      call('undoEvening', { params: { assignmentId, eveningId: evening.id } }),
    onSuccess: ({ changed, kept }) => {
      tell(client, 'scoredAcross', { assignmentId });
      toast.success(
        `${plural(changed, 'grade is', 'grades are')} as before.${kept ? ` ${kept} stayed: somebody typed there since, or they were handed back.` : ''}`,
      );
      onDone();
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
  if (scores.evenings.length === 0) return null;
  return (
    <section className="rounded-lg bg-raised p-4 text-sm shadow-sm" aria-label="Evened out before">
      <h2 className="font-bold">Evened out before</h2>
      <ul>
        {scores.evenings.map((e) => (
          <li key={e.id} className="flex flex-wrap gap-x-3 border-t border-dashed border-line py-1">
            <span>
              {howWords(e)} · {plural(e.copies, 'copy', 'copies')} · “{e.reason}”
            </span>
            <span className="text-soft">
              {e.by}, <When at={e.at} />
            </span>
            {e.undone ? (
              <span className="ml-auto text-soft">undone</span>
            ) : (
              <button
                type="button"
                className="ml-auto text-action hover:underline"
                disabled={undo.isPending}
                onClick={() => undo.mutate(e)}
              >
                Undo
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const howWords = ({ how }: EveningShape): string =>
  how.how === 'shift'
    ? `shifted by ${formatSigned(how.by)}`
    : `stretched, ${formatPoints(how.from)} became ${formatPoints(how.to)}`;

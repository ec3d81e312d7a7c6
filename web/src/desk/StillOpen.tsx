import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { tell } from '../ask/stale.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { When } from '../frame/When.tsx';
import type { DeskNow } from './useDesk.ts';

/**
 * Who comes: a teacher with time to mark before work is due, on work of which students were told that they can take it back until then. Marking it would
 * break that, or tell them that it has begun: one move ends taking back for everyone.
 */
export function StillOpen({ d, until }: { d: DeskNow; until: number }) {
  const { desk } = d;
  const client = useQueryClient();
  const navigate = useNavigate();
  const who = `${desk.student.given} ${desk.student.family}`.trim();
  const pile = () => navigate(`/piles/${desk.assignment.id}`);
  const end = useMutation({
    mutationFn: () => call('closeTakingBack', { params: { assignmentId: desk.assignment.id } }),
    onSuccess: () => tell(client, 'takingBackEnded', { assignmentId: desk.assignment.id }),
  });
  return (
    <DialogShell open title={`${who} can still take this copy back`} onClose={pile}>
      <p className="mt-3">
        You have said that this work can be taken back until <When at={until} />. To mark it now, end that
        first: then nobody can take theirs back any more, and students see only that.
      </p>
      {end.error && (
        <p role="alert" className="mt-3 text-caution">
          {sentenceOf(end.error)}
        </p>
      )}
      <div className="mt-5 flex flex-wrap gap-3">
        <button type="button" className="act" disabled={end.isPending} onClick={() => end.mutate()}>
          End taking back and mark
        </button>
        <button type="button" className="quiet" onClick={pile}>
          Back to the pile
        </button>
      </div>
    </DialogShell>
  );
}

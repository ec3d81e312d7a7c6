import { useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { keys } from '../ask/keys.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import type { DeskNow } from './useDesk.ts';
import type { Gone } from './useDeskLine.ts';

/** The copy on the desk is not what lies in the pile any more: said at once, before anything is written on it that nobody would get. */
export function GoneCopy({ d, gone }: { d: DeskNow; gone: Gone }) {
  const { desk, place } = d;
  const client = useQueryClient();
  const navigate = useNavigate();
  const who = `${desk.student.given} ${desk.student.family}`.trim();
  const pile = `/piles/${desk.assignment.id}`;
  return (
    <DialogShell
      open
      title={gone === 'taken-back' ? `${who} has taken this copy back` : `${who} has handed in again`}
      onClose={() => navigate(pile)}
    >
      <p className="mt-3">
        {gone === 'taken-back'
          ? 'They go on working on it. It comes back into the pile when they hand it in again; nothing was marked on it.'
          : 'This is the hand-in before that. Its marks are kept; what came in now waits in the pile.'}
      </p>
      <div className="mt-5 flex flex-wrap gap-3">
        {gone === 'another' && (
          <button
            type="button"
            className="act"
            onClick={() => client.resetQueries({ queryKey: keys.desk(desk.copyId) })}
          >
            Open the new hand-in
          </button>
        )}
        {gone === 'taken-back' && place.next && (
          <Link to={`/desk/${place.next.copyId}`} className="act">
            Next copy
          </Link>
        )}
        <Link to={pile} className="quiet">
          Back to the pile
        </Link>
      </div>
    </DialogShell>
  );
}

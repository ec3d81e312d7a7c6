import type { AssignmentLine, ClassId } from '@jotmark/core';
import { formatPoints, groupWork, WHOLE_LIST } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useClasses } from '../ask/classes.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { toast } from '../frame/toast.ts';
import { groupName, useWorkView, WorkTools } from '../frame/WorkTools.tsx';
import { useNewWork } from './useNewWork.ts';

const STAGE_TITLE = {
  draft: 'Drafts, seen by nobody but you',
  upcoming: 'Opens later',
  open: 'Handed out',
} as const;

/** All work set for a class: what is still a draft, what opens later, what is out, and what is archived. */
export function AssignmentList({ classId, students }: { classId: ClassId; students: number }) {
  const list = useQuery({
    queryKey: keys.assignments(classId),
    queryFn: () => call('assignments', { params: { classId } }),
  });
  const start = useNewWork(classId);
  const [view, setView] = useWorkView();
  const [away, setAway] = useState(false);
  const all = list.data ?? [];
  const shown = all.filter((a) => !a.putAway);
  const gone = all.filter((a) => a.putAway);
  return (
    <>
      <div className="flex items-center gap-3">
        <button type="button" className="act" disabled={start.isPending} onClick={() => start.mutate()}>
          New assignment
        </button>
        {students === 0 && (
          <p className="text-soft">
            This class has no students yet.{' '}
            <Link to={`/classes/${classId}/register`} className="text-action underline">
              Add them in the register
            </Link>
            .
          </p>
        )}
      </div>
      {list.error ? (
        <Trouble error={list.error} again={() => list.refetch()} />
      ) : list.isPending ? (
        <Waiting what="the list" />
      ) : (
        <>
          {shown.length === 0 && (
            <p className="mt-6 text-soft">
              Nothing is handed out yet. A new assignment begins as a draft that only you see.
            </p>
          )}
          <div className="mt-4">
            <WorkTools work={shown} view={view} onView={setView} />
          </div>
          {shown.length > 0 && groupWork(shown, view).length === 0 && (
            <p className="mt-6 text-soft">
              Nothing matches.{' '}
              <button type="button" className="text-action underline" onClick={() => setView(WHOLE_LIST)}>
                Show all
              </button>
            </p>
          )}
          {(['draft', 'upcoming', 'open'] as const).map((stage) => {
            const groups = groupWork(
              shown.filter((a) => a.stage === stage),
              view,
            );
            return (
              groups.length > 0 && (
                <section key={stage} className="mt-6" aria-label={STAGE_TITLE[stage]}>
                  <h2 className="mb-2 font-bold">{STAGE_TITLE[stage]}</h2>
                  {groups.map(({ name, work }) => (
                    <div key={name} className="mb-3">
                      {view.by && <h3 className="mb-1 text-sm text-soft">{groupName(name, view.by)}</h3>}
                      <Lines lines={work} />
                    </div>
                  ))}
                </section>
              )
            );
          })}
          {gone.length > 0 && (
            <section className="mt-6" aria-label="Archived">
              <button type="button" className="text-action underline" onClick={() => setAway(!away)}>
                {away ? 'Hide' : 'Show'} what is archived ({gone.length})
              </button>
              {away && (
                <div className="mt-2">
                  <Lines lines={gone} />
                </div>
              )}
            </section>
          )}
        </>
      )}
    </>
  );
}

function Lines({ lines }: { lines: readonly AssignmentLine[] }) {
  const { clock } = useHere();
  const now = Date.now();
  return (
    <ul className="divide-y divide-line rounded-lg bg-raised shadow-sm">
      {lines.map((a) => (
        <li key={a.id} className="flex flex-wrap items-center gap-x-5 gap-y-1 px-4 py-2.5">
          <span className="min-w-60 flex-1">
            <Link to={`/assignments/${a.id}`} className="font-bold hover:text-action hover:underline">
              {a.title || 'Without a title yet'}
            </Link>
            <span className="block text-sm text-soft">
              {[a.category, a.most === null ? 'ungraded' : `${formatPoints(a.most)} points`, a.unit]
                .filter(Boolean)
                .join(' · ')}
            </span>
          </span>
          <span className="text-sm text-soft">
            {a.stage === 'upcoming' && a.opensAt !== null && `opens ${clock.moment(a.opensAt, now)} · `}
            {a.dueAt !== null && `due ${clock.moment(a.dueAt, now)}`}
          </span>
          {a.stage !== 'draft' && (
            <Link to={`/piles/${a.id}`} className="text-action underline tabular">
              Pile: {a.handedIn} of {a.copies} in
            </Link>
          )}
          <PutAway line={a} />
        </li>
      ))}
    </ul>
  );
}

function PutAway({ line }: { line: AssignmentLine }) {
  const tell = useTell();
  const put = useMutation({
    mutationFn: (away: boolean) => call('putAway', { params: { assignmentId: line.id }, body: { away } }),
    onSuccess: (_, away) => {
      tell('assignmentMoved', {});
      if (away)
        toast(`“${line.title || 'The draft without a title'}” is archived. Nothing of it is lost.`, {
          action: { label: 'Undo', onClick: () => put.mutate(false) },
        });
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  return (
    <button
      type="button"
      className="min-h-8 rounded px-2 text-sm text-soft hover:bg-action-wash hover:text-action"
      aria-label={`${line.putAway ? 'Bring back' : 'Archive'} ${line.title || 'the draft without a title'}`}
      onClick={() => put.mutate(!line.putAway)}
    >
      {line.putAway ? 'Bring back' : 'Archive'}
    </button>
  );
}

/** The classes that the same work can be set for again. */
export function SetAgain({ assignmentId, classId }: { assignmentId: string; classId: ClassId }) {
  const navigate = useNavigate();
  const classes = useClasses().data ?? [];
  const again = useMutation({
    mutationFn: (to: ClassId) =>
      call('setAgain', { params: { assignmentId: assignmentId as never }, body: { classId: to } }),
    onSuccess: ({ id }) => navigate(`/assignments/${id}`),
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  return (
    <div className="flex flex-wrap gap-2">
      {classes.map((c) => (
        <button key={c.id} type="button" className="quiet" onClick={() => again.mutate(c.id)}>
          {c.id === classId ? `${c.name} again` : c.name}
        </button>
      ))}
    </div>
  );
}

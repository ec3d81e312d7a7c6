import { ClassId } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Navigate, NavLink, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TakeOut } from '../frame/TakeOut.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { AssignmentList } from '../setting/AssignmentList.tsx';
import { ClassEnd } from './ClassEnd.tsx';
import { RegisterView } from './RegisterView.tsx';

export const registerQuery = (classId: ClassId) => ({
  queryKey: keys.register(classId),
  queryFn: () => call('register', { params: { classId } }),
});

/** One class: the work set for it, and its register. */
export function ClassView() {
  const { classId, part = 'work' } = useParams();
  const parsed = ClassId.safeParse(classId);
  const register = useQuery({ ...registerQuery(parsed.data ?? ('' as ClassId)), enabled: parsed.success });
  if (part !== 'work' && part !== 'register') return <Navigate to={`/classes/${classId}`} replace />;
  const head = register.data?.class;
  return (
    <>
      <TopBar crumbs={[{ text: 'Classes', to: '/classes' }, { text: head?.name ?? 'Class' }]}>
        {head && parsed.success && (
          <TakeOut
            ways={[
              {
                label: 'All work and marks of this class, as zip',
                order: { what: 'class', classId: parsed.data },
              },
              {
                label: 'Archive: the whole record of this class',
                order: { what: 'archive', classId: parsed.data },
              },
              { label: 'Register and grades (OneRoster)', order: { what: 'roster', classId: parsed.data } },
            ]}
          />
        )}
      </TopBar>
      <main className="mx-auto max-w-4xl p-6">
        {!parsed.success || register.error ? (
          <Trouble error={register.error ?? new CallFailed('not-found')} again={() => register.refetch()} />
        ) : !register.data ? (
          <Waiting what="the class" />
        ) : (
          <>
            <nav aria-label="Parts of the class" className="mb-5 flex gap-5 border-b border-line">
              <Part to={`/classes/${classId}`} text="Work" />
              <Part to={`/classes/${classId}/register`} text={`Register (${head!.students})`} />
              <Part to={`/classes/${classId}/mark-book`} text="Mark book" />
              <Part to={`/classes/${classId}/log`} text="Feedback log" />
            </nav>
            {part === 'work' ? (
              <AssignmentList classId={parsed.data} students={head!.students} />
            ) : (
              <RegisterView register={register.data} />
            )}
            {part === 'work' && <ClassEnd head={head!} />}
          </>
        )}
      </main>
    </>
  );
}

function Part({ to, text }: { to: string; text: string }) {
  return (
    <NavLink
      to={to}
      end
      className={({ isActive }) =>
        `-mb-px border-b-[3px] px-1 pb-2 text-[17px] ${isActive ? 'border-action font-bold' : 'border-transparent text-soft hover:text-action'}`
      }
    >
      {text}
    </NavLink>
  );
}

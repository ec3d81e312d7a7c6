import { type ClassHead, routes } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useClasses } from '../ask/classes.ts';
import { useTell } from '../ask/stale.ts';
import { ConsentLines } from '../consent/ConsentLines.tsx';
import { LineField, trimmed, useFields } from '../frame/fields.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { plural } from '../time/words.ts';
import { FromRoster } from './FromRoster.tsx';

/** Who comes: a teacher at the start of a year, or on the way to one class. One line a class, and a new one in two fields. */
export function Classes() {
  const classes = useClasses();
  const list = classes.data ?? [];
  return (
    <>
      <TopBar crumbs={[{ text: 'Classes' }]} />
      <main className="mx-auto max-w-3xl p-6">
        {classes.error ? (
          <Trouble error={classes.error} again={() => classes.refetch()} />
        ) : classes.isPending ? (
          <Waiting what="your classes" />
        ) : (
          <>
            <ConsentLines />
            {list.length === 0 && (
              <p className="text-lg">
                You have no class yet. Give your first one a name; its students come next.
              </p>
            )}
            <ul className="space-y-2">
              {list
                .filter((c) => !c.archived)
                .map((c) => (
                  <ClassLine key={c.id} head={c} />
                ))}
            </ul>
            {list.some((c) => c.archived) && (
              <details className="mt-4">
                <summary className="cursor-pointer text-soft">
                  {plural(list.filter((c) => c.archived).length, 'archived class', 'archived classes')}
                </summary>
                <ul className="mt-2 space-y-2">
                  {list
                    .filter((c) => c.archived)
                    .map((c) => (
                      <ClassLine key={c.id} head={c} />
                    ))}
                </ul>
              </details>
            )}
            <NewClass first={list.length === 0} />
            <FromRoster />
          </>
        )}
      </main>
    </>
  );
}

function ClassLine({ head }: { head: ClassHead }) {
  return (
    <li>
      <Link
        to={`/classes/${head.id}`}
        className="flex flex-wrap items-baseline gap-x-4 rounded-lg bg-raised px-5 py-4 shadow-sm hover:outline-2 hover:outline-action"
      >
        <span className="text-xl font-bold">{head.name}</span>
        <span className="min-w-0 flex-1 truncate text-soft">{head.unit}</span>
        <span className="text-soft tabular">
          {plural(head.students, 'student', 'students')} ·{' '}
          {plural(head.assignments, 'assignment', 'assignments')}
        </span>
      </Link>
    </li>
  );
}

function NewClass({ first }: { first: boolean }) {
  const tell = useTell();
  const navigate = useNavigate();
  const form = useFields(routes.addClass.body, { name: '', unit: '' });
  const { register, formState } = form;
  const add = useMutation({
    mutationFn: (body: { name: string; unit: string }) => call('addClass', { body }),
    onSuccess: ({ id }) => {
      tell('classAdded', {});
      // Its students come next.
      navigate(`/classes/${id}/register`);
    },
  });
  return (
    <form
      className="mt-8 rounded-lg bg-raised p-5 shadow-sm"
      aria-label="New class"
      onSubmit={form.handleSubmit((body) => add.mutate(body))}
    >
      <h2 className="font-bold">{first ? 'Your first class' : 'Another class'}</h2>
      <div className="mt-3 flex flex-wrap items-start gap-3">
        <LineField
          box="w-40"
          label="Name of the class"
          maxLength={60}
          wrong={formState.errors.name && 'A class needs a name.'}
          {...register('name', trimmed)}
        />
        <LineField
          box="min-w-60 flex-1"
          label="Unit you are in (optional)"
          maxLength={200}
          {...register('unit', trimmed)}
        />
        <button type="submit" className="act mt-[21px]" disabled={add.isPending}>
          Make the class
        </button>
      </div>
      {add.error && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(add.error)}
        </p>
      )}
    </form>
  );
}

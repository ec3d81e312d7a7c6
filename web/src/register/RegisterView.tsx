import {
  BITE,
  type ClassId,
  type Credentials,
  type PersonId,
  type Register,
  type RegisterRow,
  routes,
} from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useLocation } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { Ask } from '../frame/Ask.tsx';
import { LineField, trimmed, useFields } from '../frame/fields.tsx';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { useRowsInSight } from '../frame/useRowsInSight.ts';
import { useNewWork } from '../setting/useNewWork.ts';
import { plural } from '../time/words.ts';
import { AddStudents } from './AddStudents.tsx';
import { CorrectStudent } from './CorrectStudent.tsx';
import { JoinCodePart } from './JoinCodePart.tsx';
import { PasswordSheet } from './PasswordSheet.tsx';
import { StudentData } from './StudentData.tsx';
import { useFirstPasswords } from './useFirstPasswords.ts';

/** The register of a class: who is in it, who left, who teaches it. Passwords are made here and shown once, on a sheet to print. */
export function RegisterView({ register }: { register: Register }) {
  const tell = useTell();
  const classId = register.class.id;
  const fresh = () => tell('registerChanged', { classId });
  const newWork = useNewWork(classId);
  const sheet = useFirstPasswords(classId);
  /** Whose passwords are to be made anew. */
  const [asking, setAsking] = useState<readonly RegisterRow[] | null>(null);
  const [correcting, setCorrecting] = useState<RegisterRow | null>(null);
  const given = (useLocation().state as { names?: string } | null)?.names ?? '';
  const [making, setMaking] = useState<{ done: number; total: number } | null>(null);
  const here = register.students.filter((s) => !s.left);
  const left = register.students.filter((s) => s.left);

  const newPasswords = async (who: readonly PersonId[]) => {
    const made: Credentials[] = [];
    try {
      for (let i = 0; i < who.length; i += BITE) {
        setMaking({ done: i, total: who.length });
        const personIds = who.slice(i, i + BITE);
        made.push(...(await call('newPasswords', { params: { classId }, body: { personIds } })));
      }
    } catch (error) {
      toast.error(sentenceOf(error));
    } finally {
      setMaking(null);
      // Those that were made hold already: they are shown, whatever came after.
      if (made.length) sheet.show(made);
    }
  };
  const leave = useMutation({
    mutationFn: (p: RegisterRow) => call('removeStudent', { params: { classId, personId: p.personId } }),
    onSuccess: (_, p) => {
      fresh();
      toast(`${p.given} ${p.family} has left the class. All work is kept.`, {
        action: { label: 'Undo', onClick: () => back.mutate(p) },
      });
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const back = useMutation({
    mutationFn: (p: RegisterRow) => call('returnStudent', { params: { classId, personId: p.personId } }),
    onSuccess: fresh,
    onError: (error) => void toast.error(sentenceOf(error)),
  });

  if (sheet.made)
    return (
      <PasswordSheet
        className={register.class.name}
        people={sheet.made}
        next={
          register.class.assignments === 0
            ? { does: 'Next: work for them', go: () => newWork.mutate() }
            : null
        }
        onClose={sheet.done}
      />
    );
  return (
    <>
      <AddStudents
        classId={classId}
        given={given}
        empty={here.length === 0}
        onAdded={fresh}
        onSheet={sheet.show}
      />
      <JoinCodePart classId={classId} code={register.joinCode} />
      {here.length > 0 && (
        <div className="mt-6 mb-2 flex flex-wrap items-center gap-3">
          <h2 className="font-bold">{plural(here.length, 'student', 'students')}</h2>
          <button
            type="button"
            className="quiet ml-auto"
            disabled={making !== null}
            onClick={() => setAsking(here)}
          >
            {making ? `Making passwords: ${making.done} of ${making.total}` : 'New passwords for everyone …'}
          </button>
        </div>
      )}
      <People classId={classId} rows={here}>
        {(p) => (
          <>
            <LineButton
              label={`Correct name or login of ${p.given} ${p.family}`}
              onClick={() => setCorrecting(p)}
            >
              Correct …
            </LineButton>
            <LineButton label={`New password for ${p.given} ${p.family}`} onClick={() => setAsking([p])}>
              New password …
            </LineButton>
            <LineButton
              label={`Remove ${p.given} ${p.family} from the class`}
              onClick={() => leave.mutate(p)}
            >
              Remove from class
            </LineButton>
          </>
        )}
      </People>
      <Gone classId={classId} rows={left} onBack={(p) => back.mutate(p)} onErased={fresh} />
      <Teachers register={register} onChanged={fresh} />
      {correcting && (
        <CorrectStudent
          classId={classId}
          student={correcting}
          onClose={() => setCorrecting(null)}
          onDone={() => {
            setCorrecting(null);
            fresh();
          }}
        />
      )}
      <Ask
        open={asking !== null}
        title={`Make ${asking?.length === 1 ? `a new password for ${asking[0]!.given}` : `${asking?.length ?? 0} new passwords`}?`}
        does={asking?.length === 1 ? 'Make a new password' : `Make ${asking?.length ?? 0} new passwords`}
        onDo={() => {
          const who = asking!.map((s) => s.personId);
          setAsking(null);
          newPasswords(who);
        }}
        onClose={() => setAsking(null)}
      >
        <p>
          {asking?.length === 1
            ? `The password ${asking[0]!.given} has now stops working at once, in every class, and every device is signed out. What is written on them waits until they sign in again.`
            : 'The passwords they have now stop working at once, in every class, and all their devices are signed out. What is written on them waits until they sign in again.'}
        </p>
        <p>The new ones are on a sheet to print next. This cannot be undone.</p>
      </Ask>
    </>
  );
}

/** Who left, and the ways back or out. */
function Gone({
  classId,
  rows,
  onBack,
  onErased,
}: {
  classId: ClassId;
  rows: readonly RegisterRow[];
  onBack(student: RegisterRow): void;
  onErased(): void;
}) {
  if (rows.length === 0) return null;
  return (
    <>
      <h2 className="mt-6 mb-2 font-bold text-soft">Left the class; their work is kept</h2>
      <People classId={classId} rows={rows}>
        {(p) => (
          <>
            <LineButton label={`Bring ${p.given} ${p.family} back`} onClick={() => onBack(p)}>
              Bring back
            </LineButton>
            <StudentData classId={classId} student={p} onErased={onErased} />
          </>
        )}
      </People>
    </>
  );
}

/** Of one student, in CSS pixels, with its rule. */
const ROW_HEIGHT = 46;

function People({
  classId,
  rows,
  children,
}: {
  classId: ClassId;
  rows: readonly RegisterRow[];
  children: (row: RegisterRow) => React.ReactNode;
}) {
  const list = useRef<HTMLUListElement>(null);
  const { from, to, before, after } = useRowsInSight(rows.length, ROW_HEIGHT, list);
  return (
    <ul
      ref={list}
      className="divide-y divide-line rounded-lg bg-raised shadow-sm"
      style={{ paddingTop: before, paddingBottom: after }}
    >
      {rows.slice(from, to).map((p, i) => (
        <li
          key={p.personId}
          aria-posinset={from + i + 1}
          aria-setsize={rows.length}
          className="flex min-h-[45px] items-center gap-x-4 px-4 max-sm:flex-wrap"
        >
          <Link
            to={`/classes/${classId}/log/${p.personId}`}
            className="min-w-48 flex-1 font-semibold hover:text-action hover:underline"
          >
            {p.family ? `${p.family}, ${p.given}` : p.given}
          </Link>
          <span className="w-56 truncate text-soft">{p.login}</span>
          {children(p)}
        </li>
      ))}
    </ul>
  );
}

function LineButton({
  label,
  onClick,
  children,
}: {
  label: string;
  onClick(): void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      className="min-h-8 rounded px-2 text-sm text-soft hover:bg-action-wash hover:text-action"
      onClick={onClick}
    >
      {children}
    </button>
  );
}

function Teachers({ register, onChanged }: { register: Register; onChanged(): void }) {
  const { session } = useHere();
  const classId = register.class.id;
  const form = useFields(routes.addTeacher.body, { login: '' });
  const add = useMutation({
    mutationFn: (body: { login: string }) => call('addTeacher', { params: { classId }, body }),
    onSuccess: () => {
      form.reset();
      onChanged();
    },
  });
  const remove = useMutation({
    mutationFn: (personId: PersonId) => call('removeTeacher', { params: { classId, personId } }),
    onSuccess: onChanged,
  });
  const trouble = add.error ?? remove.error;
  return (
    <section className="mt-8" aria-label="Teachers of the class">
      <h2 className="mb-2 font-bold">Teachers</h2>
      <ul className="divide-y divide-line rounded-lg bg-raised shadow-sm">
        {register.teachers.map((t) => (
          <li key={t.personId} className="flex items-center gap-4 px-4 py-1.5">
            <span className="flex-1 font-semibold">{t.name}</span>
            <span className="w-56 text-soft">{t.login}</span>
            {register.teachers.length > 1 && t.personId !== session.person!.id && (
              <LineButton label={`Remove ${t.name} from the class`} onClick={() => remove.mutate(t.personId)}>
                Remove from class
              </LineButton>
            )}
          </li>
        ))}
      </ul>
      <form
        className="mt-3 flex flex-wrap items-start gap-3"
        onSubmit={form.handleSubmit((body) => add.mutate(body))}
      >
        <LineField
          box="w-64"
          label="Share with a colleague: their login"
          maxLength={100}
          wrong={form.formState.errors.login && 'Type the name your colleague signs in with.'}
          {...form.register('login', trimmed)}
        />
        <button type="submit" className="quiet mt-[21px]">
          Add
        </button>
      </form>
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(trouble)}
        </p>
      )}
    </section>
  );
}

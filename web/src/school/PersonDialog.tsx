import { routes, type SchoolPerson } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { useFields } from '../frame/fields.tsx';
import { MergePart } from './MergePart.tsx';
import { NameFields } from './NameFields.tsx';
import { OneSheet } from './OneSheet.tsx';

const { body } = routes.correctPerson;

/** One person: their name and login, a new password, and, of a student who is there twice, both made one. */
export function PersonDialog({ person, onClose }: { person: SchoolPerson; onClose(): void }) {
  const { id, given, family, login } = person;
  const name = `${given} ${family}`.trim();
  return (
    <DialogShell open title={name} width="middle" onClose={onClose}>
      <Correct person={person} onDone={onClose} />
      <NewPassword id={id} name={name} stepOn={person.stepOn} />
      {person.role === 'student' && <MergePart keep={{ id, name, login }} onDone={onClose} />}
      <div className="mt-5">
        <button type="button" className="quiet" onClick={onClose}>
          Close
        </button>
      </div>
    </DialogShell>
  );
}

function Correct({ person, onDone }: { person: SchoolPerson; onDone(): void }) {
  const tell = useTell();
  const { given, family, login } = person;
  const form = useFields(body, { given, family, login });
  const { register, formState } = form;
  const save = useMutation({
    mutationFn: (to: ReturnType<typeof body.parse>) =>
      call('correctPerson', { params: { personId: person.id }, body: to }),
    onSuccess: () => {
      tell('peopleChanged', {});
      onDone();
    },
  });
  return (
    <form className="mt-4 space-y-2" onSubmit={form.handleSubmit((to) => save.mutate(to))}>
      <div className="flex flex-wrap gap-3">
        <NameFields register={register} errors={formState.errors} />
      </div>
      {save.error && (
        <p role="alert" className="text-caution">
          {sentenceOf(save.error)}
        </p>
      )}
      <button type="submit" className="act" disabled={save.isPending}>
        Save name and login
      </button>
    </form>
  );
}

function NewPassword({ id, name, stepOn }: { id: SchoolPerson['id']; name: string; stepOn: boolean }) {
  const tell = useTell();
  const [sure, setSure] = useState(false);
  const make = useMutation({
    mutationFn: () => call('resetPerson', { params: { personId: id } }),
    onSuccess: () => tell('peopleChanged', {}),
  });
  return (
    <section className="mt-5 border-t border-line pt-4" aria-label="New password">
      <h3 className="font-bold">New password</h3>
      <p className="text-sm text-soft">
        The old one stops working, and {name} is signed out everywhere
        {stepOn && '; the second step is off until they set it up again'}. They are told that you did it.
      </p>
      {make.data ? (
        <OneSheet made={make.data} />
      ) : sure ? (
        <div className="mt-2 flex flex-wrap gap-3">
          <button type="button" className="act" disabled={make.isPending} onClick={() => make.mutate()}>
            Make a new password for {name}
          </button>
          <button type="button" className="quiet" onClick={() => setSure(false)}>
            Cancel
          </button>
        </div>
      ) : (
        <button type="button" className="quiet mt-2" onClick={() => setSure(true)}>
          New password …
        </button>
      )}
      {make.error && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(make.error)}
        </p>
      )}
    </section>
  );
}

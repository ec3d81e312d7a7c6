import { routes } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { useFields } from '../frame/fields.tsx';
import { NameFields } from './NameFields.tsx';
import { OneSheet } from './OneSheet.tsx';

const { body } = routes.addStaff;

/** A new teacher or administrator: three words and what they are. */
export function AddStaff() {
  const tell = useTell();
  const form = useFields(body, { given: '', family: '', login: '', role: 'teacher' });
  const { register, formState } = form;
  const add = useMutation({
    mutationFn: (who: ReturnType<typeof body.parse>) => call('addStaff', { body: who }),
    onSuccess: () => {
      form.reset();
      tell('peopleChanged', {});
    },
  });
  return (
    <details className="rounded-lg bg-raised p-5 shadow-sm">
      <summary className="cursor-pointer font-bold">New teacher or administrator</summary>
      <p className="mt-2 text-sm text-soft">Students are added by their teachers, in the class.</p>
      <form
        className="mt-3 flex flex-wrap items-start gap-3"
        onSubmit={form.handleSubmit((who) => add.mutate(who))}
      >
        <NameFields register={register} errors={formState.errors} />
        <label>
          <span className="text-sm text-soft">Is</span>
          <select className="field" {...register('role')}>
            <option value="teacher">a teacher</option>
            <option value="administrator">an administrator</option>
          </select>
        </label>
        <button type="submit" className="act mt-5" disabled={add.isPending}>
          Add
        </button>
      </form>
      {add.error && (
        <p role="alert" className="mt-3 text-caution">
          {sentenceOf(add.error)}
        </p>
      )}
      {add.data && <OneSheet made={add.data} />}
    </details>
  );
}

import type { AssignmentSheet, Audience, PersonId } from '@jotmark/core';
import { useClasses } from '../ask/classes.ts';
import { plural } from '../time/words.ts';

/** For whom a draft will be set: this class or some of it, and other classes as well. */
export function AudienceFields({
  sheet,
  audience,
  onChange,
}: {
  sheet: AssignmentSheet;
  audience: Audience;
  onChange(audience: Audience): void;
}) {
  const others = (useClasses().data ?? []).filter((c) => c.id !== sheet.classId);
  const chosen = audience.students;
  const toggle = (id: PersonId, on: boolean) =>
    onChange({
      ...audience,
      students: on ? [...(chosen ?? []), id] : (chosen ?? []).filter((s) => s !== id),
    });
  return (
    <section className="rounded-lg bg-raised p-4 shadow-sm" aria-label="For whom">
      <h2 className="font-bold">For whom</h2>
      <label className="mt-2 flex items-start gap-2">
        <input
          type="radio"
          className="mt-1 size-4 accent-action"
          name="for"
          checked={chosen === null}
          onChange={() => onChange({ ...audience, students: null })}
        />
        <span>
          Everyone in {sheet.className}
          <span className="block text-sm text-soft">
            {plural(sheet.students.length, 'student', 'students')}, and who joins later
          </span>
        </span>
      </label>
      <label className="mt-2 flex items-center gap-2">
        <input
          type="radio"
          className="size-4 accent-action"
          name="for"
          checked={chosen !== null}
          onChange={() => onChange({ ...audience, students: [] })}
        />
        Chosen students
      </label>
      {chosen !== null && (
        <ul className="mt-2 max-h-60 overflow-auto rounded border border-line bg-paper p-2">
          {sheet.students.map((s) => (
            <li key={s.personId}>
              <label className="flex items-center gap-2 py-0.5">
                <input
                  type="checkbox"
                  className="size-4 accent-action"
                  checked={chosen.includes(s.personId)}
                  onChange={(e) => toggle(s.personId, e.target.checked)}
                />
                {s.given} {s.family}
              </label>
            </li>
          ))}
        </ul>
      )}
      {others.length > 0 && (
        <fieldset className="mt-3 border-t border-line pt-3">
          <legend className="sr-only">Other classes</legend>
          <p className="text-sm text-soft">Also for these classes, each with a pile of its own:</p>
          {others.map((c) => (
            <label key={c.id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="size-4 accent-action"
                checked={audience.alsoClasses.includes(c.id)}
                onChange={(e) =>
                  onChange({
                    ...audience,
                    alsoClasses: e.target.checked
                      ? [...audience.alsoClasses, c.id]
                      : audience.alsoClasses.filter((id) => id !== c.id),
                  })
                }
              />
              {c.name} <span className="text-soft">({c.students})</span>
            </label>
          ))}
        </fieldset>
      )}
    </section>
  );
}

import {
  type AssignmentSheet,
  type AssignmentStudent,
  inGroups,
  momentAt,
  type PersonId,
  putIn,
  type Together,
  wallTime,
} from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { off } from '../frame/off.ts';
import { useHere } from '../frame/session.tsx';
import { plural } from '../time/words.ts';
import { GroupList } from './GroupList.tsx';

interface Props {
  readonly sheet: AssignmentSheet;
  readonly draft: boolean;
  onChanged(sheet: AssignmentSheet): void;
}

const DEFAULT: Together = { most: 3, chosenUntil: null, groups: [] };

/** Who works together on one copy: nobody, groups that the teacher makes, or groups that students choose until a date. */
export function TogetherPart({ sheet, draft, onChanged }: Props) {
  const { session } = useHere();
  const until = useId();
  const params = { assignmentId: sheet.id };
  /** What was chosen and is being saved. */
  const [chosen, setChosen] = useState<Together | null | undefined>(undefined);
  const save = useMutation({
    mutationFn: (together: Together | null) => call('saveTogether', { params, body: { together } }),
    onSuccess: onChanged,
    // Shown as it is, whatever became of it.
    onSettled: () => setChosen(undefined),
  });
  const keep = (together: Together | null) => {
    setChosen(together);
    save.mutate(together);
  };
  const move = useMutation({
    mutationFn: (body: { personId: PersonId; to: AssignmentStudent['copyId'] }) =>
      call('moveMember', { params, body }),
    onSuccess: onChanged,
  });
  const together = chosen === undefined ? sheet.together : chosen;
  const now = together ?? DEFAULT;
  const set = (part: Partial<Together>) => keep({ ...now, ...part });
  const trouble = save.error ?? move.error;
  return (
    <section className="rounded-lg bg-raised p-4 shadow-sm" aria-label="Working together">
      <h2 className="mb-1 font-bold">Working together</h2>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={together !== null}
          // Who shares a copy that is out stays together; only moving parts them.
          {...off(
            !draft &&
              sheet.together !== null &&
              'It is handed out: who shares a copy stays together. Move somebody to part them.',
          )}
          onChange={(e) => keep(e.target.checked ? DEFAULT : null)}
        />
        In groups, one copy for each
      </label>
      {together && (
        <div className="mt-3 space-y-3">
          <Size value={now.most} onChange={(most) => set({ most })} />
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={now.chosenUntil !== null}
              onChange={(e) => set({ chosenUntil: e.target.checked ? Date.now() + 3 * 86_400_000 : null })}
            />
            Students choose
          </label>
          {now.chosenUntil !== null && (
            <label htmlFor={until} className="block text-sm text-soft">
              until
              <input
                id={until}
                type="datetime-local"
                className="field mt-1"
                value={wallTime(now.chosenUntil, session.school.timeZone)}
                onChange={(e) => {
                  const at = momentAt(e.target.value, session.school.timeZone);
                  if (at !== null) set({ chosenUntil: at });
                }}
              />
            </label>
          )}
          {draft ? (
            <Plan sheet={sheet} together={now} onGroups={(groups) => set({ groups })} />
          ) : (
            <GroupList
              groups={groupsOf(sheet.students)}
              onMove={(personId, at) =>
                move.mutate({
                  personId,
                  to: at === null ? null : (groupsOf(sheet.students)[at]?.key ?? null),
                })
              }
            />
          )}
        </div>
      )}
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(trouble)}
        </p>
      )}
    </section>
  );
}

function Size({ value, onChange }: { value: number; onChange(most: number): void }) {
  const field = useId();
  return (
    <label htmlFor={field} className="flex items-center gap-2">
      At most
      <select
        id={field}
        className="min-h-9 rounded border border-line bg-paper px-2"
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
      >
        {[2, 3, 4, 5, 6, 8, 10, 12].map((n) => (
          <option key={n} value={n}>
            {n}
          </option>
        ))}
      </select>
      in a group
    </label>
  );
}

/** Who shares a copy that is out. */
function groupsOf(students: readonly AssignmentStudent[]) {
  const out = new Map<NonNullable<AssignmentStudent['copyId']>, AssignmentStudent[]>();
  for (const s of students) if (s.copyId) out.set(s.copyId, [...(out.get(s.copyId) ?? []), s]);
  return [...out]
    .map(([key, members]) => ({ key, members }))
    .sort((a, b) => b.members.length - a.members.length);
}

/** Before it is handed out: made by number, and then by hand. */
function Plan({
  sheet,
  together,
  onGroups,
}: {
  sheet: AssignmentSheet;
  together: Together;
  onGroups(groups: PersonId[][]): void;
}) {
  const [shuffled, setShuffled] = useState(true);
  const byId = new Map(sheet.students.map((s) => [s.personId, s]));
  const groups = together.groups.map((ids, i) => ({
    key: String(i),
    members: ids.flatMap((id) => byId.get(id) ?? []),
  }));
  const placed = new Set(together.groups.flat());
  const alone = sheet.students.filter((s) => !placed.has(s.personId));
  const make = () => {
    const ids = sheet.students.map((s) => s.personId);
    onGroups(inGroups(shuffled ? shuffle(ids) : ids, together.most));
  };
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="quiet"
          {...off(sheet.students.length === 0 && 'The class has no students yet.')}
          onClick={make}
        >
          Make groups of {together.most}
        </button>
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="size-4 accent-action"
            checked={shuffled}
            onChange={(e) => setShuffled(e.target.checked)}
          />
          shuffled
        </label>
      </div>
      <GroupList
        groups={groups}
        alone={alone}
        onMove={(personId, at) => onGroups(putIn(together.groups, personId, at))}
      />
      {alone.length > 0 && (
        <p className="text-sm text-soft">
          {plural(alone.length, 'student is', 'students are')} in no group and{' '}
          {alone.length === 1 ? 'gets a copy of their own' : 'get a copy each'}.
        </p>
      )}
    </>
  );
}

function shuffle<T>(list: readonly T[]): T[] {
  const out = [...list];
  for (let i = out.length - 1; i > 0; i--) {
    const k = Math.floor((crypto.getRandomValues(new Uint32Array(1))[0]! / 2 ** 32) * (i + 1));
    [out[i], out[k]] = [out[k]!, out[i]!];
  }
  return out;
}

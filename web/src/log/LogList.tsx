import { ClassId, type LastWords, type PersonId, registerName } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useHere } from '../frame/session.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { SHEETS, TakeOut } from '../frame/TakeOut.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { plural } from '../time/words.ts';
import { RemarkForm } from './RemarkForm.tsx';

const DAY_MS = 86_400_000;
/** After so many days without a word somebody is shown as forgotten. */
const LONG_DAYS = 14;

/** Who comes: a teacher who wonders whom they have not said anything to for long; says something to several at once; opens one's log. */
export function LogList() {
  const parsed = ClassId.safeParse(useParams().classId);
  const list = useQuery({
    queryKey: keys.logs(parsed.data),
    queryFn: () => call('lastWords', { params: { classId: parsed.data! } }),
    enabled: parsed.success,
  });
  return (
    <>
      <TopBar
        crumbs={[
          { text: 'Classes', to: '/classes' },
          ...(list.data ? [{ text: list.data.className, to: `/classes/${parsed.data}` }] : []),
          { text: 'Feedback log' },
        ]}
      >
        {parsed.success && (
          <Link to={`/classes/${parsed.data}/look`} className="quiet">
            What the class was told
          </Link>
        )}
        {list.data && parsed.success && (
          <TakeOut
            ways={SHEETS.map(([as, label]) => ({
              label: `All logs as ${label}`,
              order: { what: 'logs', classId: parsed.data, as },
            }))}
          />
        )}
      </TopBar>
      <main className="mx-auto max-w-4xl p-6">
        {!parsed.success || list.error ? (
          <Trouble error={list.error ?? new CallFailed('not-found')} again={() => list.refetch()} />
        ) : !list.data ? (
          <Waiting what="the class" />
        ) : list.data.students.length === 0 ? (
          <Empty title="Nobody is in this class yet">
            As soon as it has students, all they were told stands here.
          </Empty>
        ) : (
          <Students list={list.data} classId={parsed.data} />
        )}
      </main>
    </>
  );
}

function Students({ list, classId }: { list: LastWords; classId: ClassId }) {
  const { clock } = useHere();
  const day = (at: number) => clock.day(at, Date.now());
  const [chosen, setChosen] = useState<ReadonlySet<PersonId>>(new Set());
  const [byTime, setByTime] = useState(false);
  const students = byTime
    ? list.students.toSorted((a, b) => (a.lastByMe ?? 0) - (b.lastByMe ?? 0))
    : list.students;
  const forgotten = list.students.filter((s) => isLong(s.lastByMe)).length;
  const all = chosen.size === list.students.length;
  return (
    <>
      <div className="rounded-lg bg-raised p-4 shadow-sm">
        <RemarkForm classId={classId} to={[...chosen]} strands={[]} onSaid={() => setChosen(new Set())} />
      </div>
      <div className="mt-5 flex flex-wrap items-center gap-4">
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            checked={all}
            onChange={() => setChosen(all ? new Set() : new Set(list.students.map((s) => s.id)))}
          />
          {chosen.size ? `${chosen.size} chosen` : 'Choose all'}
        </label>
        <p className="text-sm text-soft">
          {forgotten === 0
            ? `Everybody had a word from me in the last ${LONG_DAYS} days.`
            : `${plural(forgotten, 'student has', 'students have')} had no word from me for ${LONG_DAYS} days.`}
        </p>
        <button type="button" className="quiet ml-auto !min-h-8 !py-1" onClick={() => setByTime(!byTime)}>
          {byTime ? 'Sort by name' : 'Longest without a word first'}
        </button>
      </div>
      <ul className="mt-3 divide-y divide-line rounded-lg bg-raised shadow-sm">
        {students.map((s) => {
          const name = registerName(s);
          return (
            <li key={s.id} className="flex items-center gap-3 px-4 py-1.5">
              <input
                type="checkbox"
                aria-label={`Choose ${name}`}
                checked={chosen.has(s.id)}
                onChange={() => {
                  const next = new Set(chosen);
                  if (!next.delete(s.id)) next.add(s.id);
                  setChosen(next);
                }}
              />
              <Link
                to={`/classes/${classId}/log/${s.id}`}
                className="min-w-48 flex-1 py-1 hover:text-action hover:underline"
              >
                {name}
              </Link>
              {s.answered > 0 && (
                <span className="text-sm font-semibold text-action">
                  {plural(s.answered, 'new answer', 'new answers')}
                </span>
              )}
              <span
                className={`w-56 text-right text-sm ${isLong(s.lastByMe) ? 'text-caution' : 'text-soft'}`}
              >
                {s.lastByMe === null
                  ? s.lastAt === null
                    ? 'no word yet'
                    : 'no word from me yet'
                  : `last word from me: ${day(s.lastByMe)}`}
              </span>
            </li>
          );
        })}
      </ul>
    </>
  );
}

const isLong = (at: number | null): boolean => at === null || Date.now() - at > LONG_DAYS * DAY_MS;

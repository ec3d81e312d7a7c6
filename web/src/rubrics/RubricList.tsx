import { duplicateRubric, formatPoints, newRubric, type Rubric, type RubricLine } from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { addressOf, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { When } from '../frame/When.tsx';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import { TakeTable } from './TakeTable.tsx';

/** Who comes: a teacher who wants a rubric they have, or to bring one along from a spreadsheet. Finds it, makes one, takes one in. */
export function RubricList() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [archived, setArchived] = useState(false);
  const list = useQuery({ queryKey: keys.rubrics, queryFn: () => call('rubrics') });
  const make = useMutation({
    mutationFn: ({ name, rubric }: { name: string; rubric: Rubric }) =>
      call('makeRubric', { body: { name, rubric } }),
    onSuccess: (made) => {
      tell(client, 'rubricChanged', {});
      navigate(`/rubrics/${made.id}`);
    },
    onError: (error) => toast.error(sentenceOf(error)),
  });
  const duplicate = async (line: RubricLine) => {
    const { rubric } = await call('rubric', { params: { rubricId: line.id } });
    make.mutate({
      name: `${line.name} (copy)`.slice(0, 200),
      rubric: duplicateRubric(rubric, () => newId()),
    });
  };
  const archive = async (line: RubricLine) => {
    await call('archiveRubric', { params: { rubricId: line.id }, body: { away: !line.putAway } });
    tell(client, 'rubricChanged', {});
    toast(
      line.putAway
        ? `“${line.name}” is restored.`
        : `“${line.name}” is archived. Work that uses it keeps it.`,
    );
  };
  const all = list.data ?? [];
  const rows = all.filter((r) => r.putAway === archived);
  const away = all.filter((r) => r.putAway).length;
  return (
    <>
      <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Rubrics' }]} />
      <main className="mx-auto max-w-4xl p-6">
        <div className="flex flex-wrap items-center gap-3">
          <button
            type="button"
            className="act"
            disabled={make.isPending}
            onClick={() => make.mutate({ name: 'New rubric', rubric: newRubric(() => newId()) })}
          >
            New rubric
          </button>
          <TakeTable
            what="Use as a new rubric"
            onTake={(rubric, name) => make.mutate({ name: name || 'New rubric', rubric })}
          />
          <p className="text-sm text-soft">csv, xlsx, ods, a table in docx or odt; or paste one</p>
        </div>
        {list.error ? (
          <Trouble error={list.error} again={() => list.refetch()} />
        ) : list.isPending ? (
          <Waiting what="your rubrics" />
        ) : all.length === 0 ? (
          <Empty title="No rubrics yet">
            Criteria, levels, and words for each. Make one, or take the spreadsheet you have.
          </Empty>
        ) : (
          <ul className="mt-5 divide-y divide-line rounded-lg bg-raised shadow-sm" aria-label="Rubrics">
            {rows.map((r) => (
              <li key={r.id} className="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 py-2.5">
                <Link
                  to={`/rubrics/${r.id}`}
                  className="min-w-52 flex-1 font-bold hover:text-action hover:underline"
                >
                  {r.name}
                </Link>
                <span className="text-sm text-soft tabular">
                  {plural(r.criteria, 'criterion', 'criteria')} ·{' '}
                  {r.most === null ? 'no points' : `${formatPoints(r.most)} points`}
                  {r.usedIn > 0 && ` · used for ${plural(r.usedIn, 'assignment', 'assignments')}`}
                  {r.number > 1 && ` · version ${r.number}`} · <When at={r.createdAt} />
                </span>
                <span className="flex gap-3 text-sm">
                  <button type="button" className="text-action hover:underline" onClick={() => duplicate(r)}>
                    Duplicate
                  </button>
                  {(['xlsx', 'ods', 'csv'] as const).map((as) => (
                    <a
                      key={as}
                      className="text-action hover:underline"
                      href={`${addressOf('rubricFile', { rubricId: r.id })}?as=${as}`}
                      download
                      aria-label={`Save ${r.name} as ${as}`}
                    >
                      {as}
                    </a>
                  ))}
                  <button type="button" className="text-action hover:underline" onClick={() => archive(r)}>
                    {r.putAway ? 'Restore' : 'Archive'}
                  </button>
                </span>
              </li>
            ))}
            {rows.length === 0 && <li className="px-4 py-3 text-soft">None here.</li>}
          </ul>
        )}
        {away > 0 && (
          <button
            type="button"
            className="mt-3 text-sm text-action hover:underline"
            onClick={() => setArchived(!archived)}
          >
            {archived ? 'Back to the rubrics in use' : `${away} archived`}
          </button>
        )}
      </main>
    </>
  );
}

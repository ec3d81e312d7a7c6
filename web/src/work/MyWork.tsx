import { groupWork, WHOLE_LIST, type WorkRow, type WorkView } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { groupName, useWorkView, WorkTools } from '../frame/WorkTools.tsx';
import { PlaceGlyph } from '../look/glyphs.tsx';
import { lateWords, plural } from '../time/words.ts';
import { JoinClass } from './JoinClass.tsx';

/** What each place means to the student whose copy it is. */
const STUDENT_PLACE: Readonly<Record<WorkRow['place'], string>> = {
  'with-student': 'to do',
  in: 'handed in',
  'being-marked': 'handed in',
  marked: 'handed in',
  'handed-back': 'marked, back with you',
  'in-again': 'handed in again',
};

/** Said of the whole list only: of a part of it, it might not be so. */
const NO_TODO = 'Nothing to do just now';

/** Who comes: a student, between two lessons. What is due first, where each copy is, what came back. */
export function MyWork() {
  const work = useQuery({ queryKey: keys.myWork, queryFn: () => call('workList'), refetchInterval: 30_000 });
  const all = work.data ?? [];
  const [view, setView] = useWorkView();
  const rows = groupWork(all, { ...view, by: null }).flatMap((g) => g.work);
  const narrowed = view.unit !== null || view.category !== null;
  const todo = rows.filter((r) => r.place === 'with-student' && !r.excused);
  const excused = rows.filter((r) => r.place === 'with-student' && r.excused);
  const back = rows
    .filter((r) => r.place === 'handed-back' || r.unfinished)
    .toSorted((a, b) => (b.handedBackAt ?? 0) - (a.handedBackAt ?? 0));
  const away = rows.filter((r) => (r.place === 'in' || r.place === 'in-again') && !r.unfinished);
  return (
    <>
      <TopBar crumbs={[{ text: 'My work' }]}>
        <Link to="/feedback" className="quiet">
          My feedback
        </Link>
      </TopBar>
      <main className="mx-auto max-w-3xl p-5">
        {work.error ? (
          <Trouble error={work.error} again={() => work.refetch()} />
        ) : work.isPending ? (
          <Waiting what="the list" />
        ) : all.length === 0 ? (
          <Empty title="No work yet">When your teacher sets work for your class, it lies here.</Empty>
        ) : (
          <>
            <WorkTools work={all} view={view} onView={setView} />
            {rows.length === 0 && (
              <p className="mt-6 text-soft">
                Nothing matches.{' '}
                <button type="button" className="text-action underline" onClick={() => setView(WHOLE_LIST)}>
                  Show all
                </button>
              </p>
            )}
            <Group title={todo.length || narrowed ? 'To do' : NO_TODO} rows={todo} by={view.by} />
            <Group title="Back with you" rows={back} by={view.by} />
            <Group title="With your teacher" rows={away} by={view.by} />
            <Group title="Excused" rows={excused} by={view.by} />
          </>
        )}
        {work.isSuccess && <JoinClass />}
      </main>
    </>
  );
}

/** One part of the list, in its groups where it is grouped. */
function Group({ title, rows, by }: { title: string; rows: readonly WorkRow[]; by: WorkView['by'] }) {
  if (rows.length === 0 && title !== NO_TODO) return null;
  return (
    <section className="mt-6" aria-label={title}>
      <h2 className="text-lg font-bold">{title}</h2>
      {groupWork(rows, { ...WHOLE_LIST, by }).map(({ name, work }) => (
        <div key={name}>
          {by && <h3 className="mt-2 text-sm text-soft">{groupName(name, by)}</h3>}
          <Rows rows={work} />
        </div>
      ))}
    </section>
  );
}

function Rows({ rows }: { rows: readonly WorkRow[] }) {
  return (
    <ul className="mt-2 space-y-2">
      {rows.map((row) => (
        <li key={row.copyId}>
          <Link
            to={`/work/${row.copyId}`}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 rounded-lg bg-raised px-5 py-4 shadow-sm hover:outline-2 hover:outline-action"
          >
            <PlaceGlyph place={row.place} size={22} />
            <span className="min-w-48 flex-1">
              <span className="block text-[17px] font-bold">{row.assignment.title}</span>
              <span className="text-soft">
                {row.assignment.className} ·{' '}
                {row.excused
                  ? 'excused'
                  : row.unfinished
                    ? `comments are here, ${row.assignment.most === null ? 'more' : 'the grade'} is still to come`
                    : STUDENT_PLACE[row.place]}
              </span>
              {(row.unread > 0 || row.changed) && (
                <span className="block font-semibold text-action">
                  {[
                    row.unread > 0 &&
                      `${plural(row.unread, 'new message', 'new messages')} from your teacher`,
                    row.changed && 'your teacher changed something',
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                </span>
              )}
            </span>
            <span className="text-right text-sm text-soft">
              {row.place === 'with-student' && row.assignment.dueAt !== null && (
                <span className={row.overdue ? 'text-caution' : undefined}>
                  {row.overdue ? 'was due ' : 'due '}
                  <When at={row.assignment.dueAt} />
                </span>
              )}
              {row.place !== 'with-student' && row.handedInAt !== null && (
                <>
                  in <When at={row.handedInAt} />
                  {row.late > 0 && <span className="block text-caution">{lateWords(row.late)}</span>}
                </>
              )}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

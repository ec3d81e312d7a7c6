import {
  ClassId,
  type FeedbackLog,
  filterLog,
  type LogFilter,
  logChoices,
  PersonId,
  WHOLE_LOG,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { OpenAddress } from '../frame/OpenAddress.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { SHEETS, TakeOut } from '../frame/TakeOut.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { LogHead } from './LogHead.tsx';
import { LogLines } from './LogLines.tsx';
import { RemarkForm } from './RemarkForm.tsx';
import { ReportPart, type Taking } from './ReportPart.tsx';

export const logQuery = (classId: ClassId | undefined, personId: PersonId | undefined) => ({
  queryKey: classId && personId ? keys.log(classId, personId) : keys.logs(),
  queryFn: () => call('feedbackLog', { params: { classId: classId!, personId: personId! } }),
  enabled: classId !== undefined && personId !== undefined,
});

/** Who comes: a teacher before a talk with a family, or at the end of a term. What was this child told, what did they do about it, what comes again? */
export function LogView() {
  const params = useParams();
  const classId = ClassId.safeParse(params.classId).data;
  const personId = PersonId.safeParse(params.personId).data;
  const log = useQuery(logQuery(classId, personId));
  const name = log.data ? `${log.data.student.given} ${log.data.student.family}`.trim() : '';
  const [writing, setWriting] = useState(false);
  return (
    <>
      <TopBar
        crumbs={[
          { text: 'Classes', to: '/classes' },
          ...(log.data
            ? [
                { text: log.data.className, to: `/classes/${classId}` },
                { text: 'Feedback log', to: `/classes/${classId}/log` },
              ]
            : []),
          { text: name || 'Feedback log' },
        ]}
      >
        {log.data && (
          <>
            <button
              type="button"
              className="quiet"
              aria-pressed={writing}
              onClick={() => setWriting(!writing)}
            >
              {writing ? 'Close the report' : 'Write a report'}
            </button>
            <TakeOut
              ways={SHEETS.map(([as, label]) => ({
                label: `This log as ${label}`,
                order: { what: 'log', classId: classId!, personId: personId!, as },
              }))}
            />
            <Link to={`/classes/${classId}/log/${personId}/sheet`} className="quiet">
              For the family talk: print or PDF
            </Link>
          </>
        )}
      </TopBar>
      <main className="p-4">
        {!classId || !personId || log.error ? (
          <Trouble error={log.error ?? new CallFailed('not-found')} again={() => log.refetch()} />
        ) : !log.data ? (
          <Waiting what="the feedback log" />
        ) : (
          <Log key={personId} log={log.data} classId={classId} writing={writing} />
        )}
      </main>
    </>
  );
}

/** What a log is filtered by: of the filter, what it is called, what there is to choose from, and all of it in a word. */
const CHOICES = [
  ['unit', 'Unit', 'units', 'units'],
  ['work', 'Kind of work', 'works', 'kinds of work'],
  ['strand', 'Strand', 'strands', 'strands'],
  ['focus', 'Focus', 'focuses', 'focuses'],
] as const;

function Log({ log, classId, writing }: { log: FeedbackLog; classId: ClassId; writing: boolean }) {
  const tell = useTell();
  const [filter, setFilter] = useState(WHOLE_LOG);
  const taking = useRef<Taking>({ take: null, waits: [] });
  const take = (words: string) =>
    taking.current.take ? taking.current.take(words) : void taking.current.waits.push(words);
  const { student } = log;
  const choices = logChoices(log.entries);
  const entries = filterLog(log.entries, filter);
  return (
    <div
      className={`mx-auto grid items-start gap-4 ${writing ? 'max-w-none xl:grid-cols-[1fr_26rem]' : 'max-w-7xl'}`}
    >
      <div className="space-y-4">
        <LogHead entries={entries} name={student.given} />
        <section aria-label="Feedback" className="rounded-lg bg-raised p-5 shadow-sm">
          <div className="flex flex-wrap items-start gap-3 border-b border-line pb-3">
            {CHOICES.map(([field, label, of, name]) => (
              <Choice
                key={field}
                name={name}
                label={label}
                of={choices[of]}
                filter={filter}
                field={field}
                onFilter={setFilter}
              />
            ))}
            <div className="ml-auto w-full max-w-xl">
              <RemarkForm classId={classId} to={[student.id]} strands={choices.strands} onSaid={() => {}} />
            </div>
          </div>
          {entries.length === 0 ? (
            <p className="py-6 text-soft">
              {log.entries.length === 0
                ? `Nothing was handed back to ${student.given} yet. What goes back, and what you say without a copy, stands here by itself.`
                : 'Nothing matches. Choose another unit, kind of work or focus.'}
            </p>
          ) : (
            <LogLines
              entries={entries}
              copyAt={(e) => (e.handIn > 0 ? `/desk/${e.copyId}` : `/score/${e.copyId}`)}
              answersFor={student.id}
              onTake={writing ? take : undefined}
              onChanged={() => tell('remarkSaid', { classId })}
            />
          )}
        </section>
        <OpenAddress
          of={`log ${classId} ${student.id}`}
          title="For the family"
          says={`Whoever has the address reads what went back to ${student.given} and hears what was said; nothing that is held.`}
          ask={(open) => call('logAddress', { params: { classId, personId: student.id }, body: { open } })}
          addressOf={(token) => `${location.origin}/family-log/${token}`}
        />
      </div>
      {writing && <ReportPart classId={classId} student={student} taking={taking} />}
    </div>
  );
}

function Choice({
  name,
  label,
  of,
  filter,
  field,
  onFilter,
}: {
  name: string;
  label: string;
  of: readonly string[];
  filter: LogFilter;
  field: keyof LogFilter;
  onFilter(next: LogFilter): void;
}) {
  if (of.length === 0) return null;
  return (
    <select
      aria-label={label}
      className="min-h-9 max-w-48 rounded border border-line bg-paper px-2"
      value={filter[field] ?? ''}
      onChange={(e) => onFilter({ ...filter, [field]: e.target.value || null })}
    >
      <option value="">All {name}</option>
      {of.map((o) => (
        <option key={o} value={o}>
          {o}
        </option>
      ))}
    </select>
  );
}

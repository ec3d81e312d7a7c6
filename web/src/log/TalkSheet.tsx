import {
  ClassId,
  type FeedbackLog,
  LOG_PART_NAMES,
  LogPart,
  logSheet,
  PersonId,
  TALK_PARTS,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Printer } from 'lucide-react';
import { useState } from 'react';
import { useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { off } from '../frame/off.ts';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { Making, useTakeOut } from '../frame/TakeOut.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { logQuery } from './LogView.tsx';

/** Who comes: a teacher before a talk with a family. Chooses what is on the paper, sees it as it will be, prints it or saves it as PDF. */
export function TalkSheet() {
  const params = useParams();
  const classId = ClassId.safeParse(params.classId).data;
  const personId = PersonId.safeParse(params.personId).data;
  const log = useQuery(logQuery(classId, personId));
  const name = log.data ? `${log.data.student.given} ${log.data.student.family}`.trim() : 'Feedback log';
  return (
    <>
      <div className="print:hidden">
        <TopBar
          crumbs={[
            { text: 'Classes', to: '/classes' },
            ...(log.data
              ? [
                  { text: log.data.className, to: `/classes/${classId}` },
                  { text: name, to: `/classes/${classId}/log/${personId}` },
                ]
              : []),
            { text: 'For the family talk' },
          ]}
        />
      </div>
      <main className="p-4 print:p-0">
        {!classId || !personId || log.error ? (
          <Trouble error={log.error ?? new CallFailed('not-found')} again={() => log.refetch()} />
        ) : !log.data ? (
          <Waiting what="the feedback log" />
        ) : (
          <Sheet log={log.data} classId={classId} personId={personId} />
        )}
      </main>
    </>
  );
}

function Sheet({ log, classId, personId }: { log: FeedbackLog; classId: ClassId; personId: PersonId }) {
  const { session, clock } = useHere();
  const [parts, setParts] = useState<readonly LogPart[]>(TALK_PARTS);
  const reports = useQuery({
    queryKey: keys.reports(classId, personId),
    queryFn: () => call('reports', { params: { classId, personId } }),
  });
  const [term, setTerm] = useState('');
  const out = useTakeOut();
  const day = clock.paperDay;
  const sheet = logSheet(log, {
    parts,
    day,
    under: `${log.className} · ${session.school.name} · ${day(Date.now())}`,
    report: reports.data?.find((r) => r.term === term)?.words ?? '',
  });
  const toggle = (part: LogPart) =>
    setParts(parts.includes(part) ? parts.filter((p) => p !== part) : [...parts, part]);
  return (
    <div className="mx-auto grid max-w-5xl items-start gap-4 md:grid-cols-[16rem_1fr] print:block">
      <form className="rounded-lg bg-raised p-4 shadow-sm print:hidden" onSubmit={(e) => e.preventDefault()}>
        <fieldset>
          <legend className="font-bold">What is on the paper</legend>
          {LogPart.options.map((part) => (
            <label key={part} className="mt-1 flex items-center gap-2">
              <input type="checkbox" checked={parts.includes(part)} onChange={() => toggle(part)} />
              {LOG_PART_NAMES[part]}
            </label>
          ))}
        </fieldset>
        {parts.includes('report') && (
          <label className="mt-2 block text-sm">
            Term of the report
            <select className="field !min-h-8 !py-1" value={term} onChange={(e) => setTerm(e.target.value)}>
              <option value="">Choose a term</option>
              {reports.data?.map((r) => (
                <option key={r.term}>{r.term}</option>
              ))}
            </select>
          </label>
        )}
        <p className="mt-3 text-sm text-soft">Only what was handed back is on it; what is held is not.</p>
        <div className="mt-4 flex flex-col items-start gap-2">
          <button type="button" className="act flex items-center gap-2" onClick={() => window.print()}>
            <Printer size={16} aria-hidden="true" /> Print
          </button>
          {out.making ? (
            <Making out={out} />
          ) : (
            <button
              type="button"
              className="quiet"
              {...off(parts.length === 0 && 'Choose first what goes on the sheet.')}
              onClick={() =>
                out.order('the PDF', { what: 'log-sheet', classId, personId, parts: [...parts], term })
              }
            >
              Save as PDF
            </button>
          )}
        </div>
      </form>
      <article
        aria-label={`Sheet about ${sheet.title}`}
        className="rounded bg-paper px-12 py-10 shadow print:p-0 print:shadow-none"
      >
        <h2 className="text-2xl font-bold">{sheet.title}</h2>
        <p className="text-soft">{sheet.under}</p>
        {sheet.parts.length === 0 && <p className="mt-4 text-soft">Nothing was handed back yet.</p>}
        {sheet.parts.map((part, i) => (
          <section key={i} className="mt-4 break-inside-avoid">
            {part.heading && <h3 className="border-b border-line font-bold">{part.heading}</h3>}
            {part.lines.map((line, k) => (
              <div
                key={k}
                className={`mt-1 flex gap-4 ${part.hand ? 'font-hand text-lg leading-snug text-garnet' : ''}`}
              >
                <div className="min-w-0 flex-1 break-words whitespace-pre-line">
                  <WordsShow words={line.text} />
                </div>
                {line.value && <b className="tabular">{line.value}</b>}
              </div>
            ))}
          </section>
        ))}
      </article>
    </div>
  );
}

import { type ClassId, type FeedbackLog, REPORT_WORDS, type Report } from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type RefObject, useEffect, useRef, useState } from 'react';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { SHEETS, TakeOut, type Way } from '../frame/TakeOut.tsx';
import { useStable } from '../frame/useStable.ts';
import { plural } from '../time/words.ts';
import { WordsField } from '../words/WordsField.tsx';

/** Takes lines of the log over into the report. What is taken before the report is there waits for it. */
export interface Taking {
  take: ((words: string) => void) | null;
  readonly waits: string[];
}

interface Props {
  readonly classId: ClassId;
  readonly student: FeedbackLog['student'];
  readonly taking: RefObject<Taking>;
}

/** What a report of a term is called where nobody says otherwise. */
const FIRST_TERM = 'This term';
const SAVE_MS = 800;

/** A text about a student for a term, beside their log: lines of it are taken over by one move. It is saved by itself. */
export function ReportPart({ classId, student, taking }: Props) {
  const reports = useQuery({
    queryKey: keys.reports(classId, student.id),
    queryFn: () => call('reports', { params: { classId, personId: student.id } }),
    refetchOnWindowFocus: false,
  });
  const [term, setTerm] = useState<string | null>(null);
  const [named, setNamed] = useState('');
  if (reports.error) return <Trouble error={reports.error} again={() => reports.refetch()} />;
  if (!reports.data) return <Waiting what="the report" />;
  const terms = [...new Set([...reports.data.map((r) => r.term), ...(term ? [term] : [])])];
  const now = term ?? reports.data.at(-1)?.term ?? FIRST_TERM;
  const stands = reports.data.find((r) => r.term === now);
  return (
    <section aria-label="Report" className="sticky top-4 rounded-lg bg-raised p-4 shadow-sm">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="font-bold">Report</h2>
        <select
          aria-label="Term of the report"
          className="min-h-8 rounded border border-line bg-paper px-2"
          value={now}
          onChange={(e) => setTerm(e.target.value)}
        >
          {(terms.length ? terms : [FIRST_TERM]).map((t) => (
            <option key={t}>{t}</option>
          ))}
        </select>
        <form
          className="ml-auto flex gap-1"
          onSubmit={(e) => {
            e.preventDefault();
            if (named.trim()) setTerm(named.trim());
            setNamed('');
          }}
        >
          <input
            className="field !min-h-8 !w-32 !py-1"
            aria-label="Name of another term"
            placeholder="Another term"
            maxLength={40}
            value={named}
            onChange={(e) => setNamed(e.target.value)}
          />
          <button type="submit" className="quiet !min-h-8 !py-1" disabled={!named.trim()}>
            Open
          </button>
        </form>
      </div>
      <ReportText
        key={now}
        classId={classId}
        student={student}
        report={stands ?? { term: now, words: '', changedAt: 0, by: '' }}
        taking={taking}
      />
      <div className="mt-3">
        <TakeOut
          label="Save the whole class’s …"
          ways={[
            { label: `Reports of ${now} as PDF`, order: { what: 'reports', classId, term: now, as: 'pdf' } },
            ...SHEETS.map(
              ([as, label]): Way => ({
                label: `Reports of ${now} as ${label}`,
                order: { what: 'reports', classId, term: now, as },
              }),
            ),
          ]}
        />
      </div>
    </section>
  );
}

/** What is typed and not yet kept by the server lies on this device, so that a closed lid loses nothing. */
const draftKey = (classId: ClassId, personId: string, term: string) =>
  `jotmark.report.${classId}.${personId}.${term}`;

function ReportText({
  classId,
  student,
  report,
  taking,
}: {
  classId: ClassId;
  student: FeedbackLog['student'];
  report: Report;
  taking: RefObject<Taking>;
}) {
  const client = useQueryClient();
  const key = draftKey(classId, student.id, report.term);
  const [words, setWords] = useState(() => localStorage.getItem(key) ?? report.words);
  const base = useRef(report.changedAt);
  const [state, setState] = useState<'saved' | 'saving' | 'kept'>(words === report.words ? 'saved' : 'kept');
  const [trouble, setTrouble] = useState<unknown>(null);
  const field = useRef<HTMLTextAreaElement | null>(null);
  function change(next: string) {
    const cut = next.slice(0, REPORT_WORDS);
    setWords(cut);
    setState('kept');
    localStorage.setItem(key, cut);
  }
  const take = (line: string) => change(words.trim() ? `${words.trimEnd()}\n${line}` : line);
  const takeNow = useStable({ take });
  useEffect(() => {
    const { current } = taking;
    current.take = takeNow.take;
    const waited = current.waits.splice(0);
    if (waited.length) takeNow.take(waited.join('\n'));
    return () => {
      current.take = null;
    };
  }, [taking, takeNow]);
  useEffect(() => {
    if (state !== 'kept') return;
    const save = async () => {
      setState('saving');
      try {
        const kept = await call('saveReport', {
          params: { classId, personId: student.id },
          body: { term: report.term, words, base: base.current },
        });
        base.current = kept.changedAt;
        if (localStorage.getItem(key) === words) localStorage.removeItem(key);
        client.setQueryData(keys.reports(classId, student.id), (old: Report[] | undefined) => [
          ...(old ?? []).filter((r) => r.term !== kept.term),
          kept,
        ]);
        setTrouble(null);
        setState((s) => (s === 'saving' ? 'saved' : s));
      } catch (error) {
        setTrouble(error);
        // Tried again with the next letter, or by the button.
        setState((s) => (s === 'saving' ? 'saved' : s));
      }
    };
    const clock = setTimeout(save, SAVE_MS);
    return () => clearTimeout(clock);
  }, [state, words, classId, student.id, report.term, key, client]);
  const elsewhere = trouble instanceof CallFailed && trouble.code === 'changed-elsewhere';
  return (
    <>
      <WordsField
        field={field}
        label={`Report about ${student.given}`}
        className="field mt-2 min-h-80"
        most={REPORT_WORDS}
        value={words}
        onValue={change}
      />
      <p className="mt-1 flex text-sm text-soft tabular" aria-live="polite">
        {plural(words.trim() ? words.trim().split(/\s+/u).length : 0, 'word', 'words')}, {words.length}{' '}
        letters
        <span className="ml-auto">
          {trouble
            ? ''
            : state === 'saved'
              ? 'Saved'
              : state === 'saving'
                ? 'Saving …'
                : 'Kept on this device'}
        </span>
      </p>
      {trouble !== null && (
        <p role="alert" className="mt-1 text-sm text-caution">
          {elsewhere
            ? 'Somebody else has written this report in the meantime. What you typed is kept on this device. '
            : `${sentenceOf(trouble)} What you typed is kept on this device. `}
          <button
            type="button"
            className="text-action underline"
            onClick={async () => {
              if (elsewhere) {
                const all = await call('reports', { params: { classId, personId: student.id } });
                base.current = all.find((r) => r.term === report.term)?.changedAt ?? 0;
              }
              setTrouble(null);
              setState('kept');
            }}
          >
            {elsewhere ? 'Save mine instead' : 'Try again'}
          </button>
        </p>
      )}
      <p className="mt-2 text-sm text-soft">
        “Add to report” beside a line of the log puts it here. Phrases work as at the desk.
      </p>
    </>
  );
}

import {
  type Box,
  boxToScreen,
  type CameWent,
  CopyId,
  cameWent,
  inPageOrder,
  type Mark,
  numberQuestions,
  pastedPassages,
  type QuestionId,
  restingPlaces,
  sittingsOf,
  type TrailLine,
  TrailReader,
  takesWords,
  wayOf,
  withoutOwnMoves,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { Pause, Play } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Navigate, useParams, useSearchParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { answerIntoSight } from '../fields/into-sight.ts';
import { SheetStack } from '../fields/SheetStack.tsx';
import { useHere } from '../frame/session.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { useZoom } from '../hand/useZoom.ts';
import { marksByPage } from '../paper/marks-by-page.ts';
import { usePageList } from '../paper/page-list.ts';
import { plural } from '../time/words.ts';
import { LinedPaper } from '../writing/LinedPaper.tsx';
import { type Came, PlainShow } from '../writing/PlainShow.tsx';
import { placeOfLine, SayAtMoment } from './SayAtMoment.tsx';
import { lengthWords, sittingWords, stepWords } from './trail-words.ts';

/** Who comes: a teacher who wonders, or the student it is about; both see the same. When was what written, and how did it read on the way. */
export function TrailView() {
  const { session } = useHere();
  const parsed = CopyId.safeParse(useParams().copyId);
  const trail = useQuery({
    queryKey: keys.trail(parsed.data),
    queryFn: () => call('trail', { params: { copyId: parsed.data! } }),
    enabled: parsed.success && session.person !== null,
  });
  if (!session.person) return <Navigate to="/sign-in" replace />;
  const teacher = session.person.role === 'teacher';
  return (
    <div className="flex h-full flex-col">
      <TopBar
        crumbs={[
          teacher ? { text: 'Today', to: '/' } : { text: 'My work', to: '/' },
          ...(trail.data
            ? [
                teacher
                  ? { text: `${trail.data.title}, ${trail.data.student}` }
                  : { text: trail.data.title, to: `/work/${parsed.data}` },
              ]
            : []),
          { text: 'Working trail' },
        ]}
      />
      {!parsed.success || trail.error ? (
        <Trouble error={trail.error ?? new CallFailed('not-found')} again={() => trail.refetch()} />
      ) : !trail.data ? (
        <Waiting what="the trail" />
      ) : trail.data.trail.lines.length === 0 ? (
        <Empty title="Nothing was written here yet">
          As soon as something is typed or drawn on this copy, it is shown here step by step.
        </Empty>
      ) : (
        <Player data={trail.data} />
      )}
    </div>
  );
}

type Data = Awaited<ReturnType<typeof load>>;
const load = (copyId: CopyId) => call('trail', { params: { copyId } });

/** Playing, so long a step of the trail is shown, in milliseconds; pauses of the student are left out. */
const STEP_MS = 120;
/** However long a trail is, it plays in about a minute: then several lines are one step. */
const MOST_STEPS = 500;

function Player({ data }: { data: Data }) {
  const { clock } = useHere();
  const { strokes } = data.trail;
  const lines = useMemo(() => withoutOwnMoves(data.trail.lines), [data]);
  const reader = useMemo(() => new TrailReader(lines), [lines]);
  const [params] = useSearchParams();
  const moment = Number(params.get('moment')) || null;
  const upTo = (moment: number) => lines.filter((l) => l.at <= moment).length;
  const [at, setAt] = useState(() => (moment ? upTo(moment) : lines.length));
  const [playing, setPlaying] = useState(false);
  const [one, setOne] = useState<QuestionId | null>(null);
  useEffect(() => {
    if (!playing) return;
    const timer = setInterval(() => {
      setAt((n) => {
        if (n >= lines.length) setPlaying(false);
        return Math.min(n + Math.ceil(lines.length / MOST_STEPS), lines.length);
      });
    }, STEP_MS);
    return () => clearInterval(timer);
  }, [playing, lines.length]);
  const state = reader.at(at);
  const before = reader.at(at - 1);
  const changed = useMemo(() => cameWent(lines, reader, at), [lines, reader, at]);
  const sittings = useMemo(() => sittingsOf(lines), [lines]);
  const numbers = useMemo(() => {
    const out = new Map<QuestionId, string>();
    for (const s of data.sheets) for (const [id, n] of numberQuestions(s.questions)) out.set(id, n);
    return out;
  }, [data.sheets]);
  const line = at > 0 ? lines[at - 1]! : null;
  const copyId = CopyId.parse(useParams().copyId);
  const goTo = (when: number) => {
    setPlaying(false);
    setAt(upTo(when));
  };
  return (
    <main className="flex min-h-0 flex-1 flex-col lg:flex-row">
      <aside
        className="max-h-[45%] shrink-0 overflow-y-auto border-r border-line bg-raised p-5 lg:max-h-none lg:w-[330px]"
        aria-label="Sittings"
      >
        <h2 className="font-bold">{plural(sittings.length, 'sitting', 'sittings')}</h2>
        <ol className="mt-2 space-y-1">
          {sittings.map((s, i) => (
            <li key={s.from}>
              <button
                type="button"
                aria-current={at > s.first && at <= s.end}
                className={`w-full rounded-lg px-3 py-2 text-left hover:bg-action-wash ${at > s.first && at <= s.end ? 'bg-action-wash' : ''}`}
                onClick={() => setAt(s.end)}
              >
                <span className="block font-semibold">
                  {i + 1}. <When at={s.from} />, {lengthWords(s.to - s.from)}
                </span>
                <span className="block text-sm text-soft">{sittingWords(s)}</span>
              </button>
            </li>
          ))}
        </ol>
        <Pasted lines={lines} numbers={numbers} onGo={(n) => setAt(n + 1)} />
        <h2 className="mt-5 font-bold">One answer from first to last</h2>
        <select
          aria-label="Question to follow"
          className="field mt-1"
          value={one ?? ''}
          onChange={(e) => setOne((e.target.value || null) as QuestionId | null)}
        >
          <option value="">Choose a question</option>
          {[...numbers].map(([id, n]) => (
            <option key={id} value={id}>
              {n}
            </option>
          ))}
        </select>
        {one && <Way lines={lines} question={one} at={at} onGo={setAt} />}
        <SayAtMoment copyId={copyId} place={line && placeOfLine(data.sheets, strokes, line)} onGo={goTo} />
      </aside>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <Pages
          data={data}
          answers={state.answers}
          strokes={strokes.filter((s) => state.strokes.has(s.id))}
          numbers={numbers}
          changed={changed}
          line={line}
        />
        <div className="flex items-center gap-3 border-t border-line bg-tray px-5 py-3">
          <button
            type="button"
            className="act flex items-center gap-2"
            onClick={() => {
              if (!playing && at >= lines.length) setAt(0);
              setPlaying(!playing);
            }}
          >
            {playing ? <Pause size={18} aria-hidden="true" /> : <Play size={18} aria-hidden="true" />}
            {playing ? 'Stop' : 'Play'}
          </button>
          <input
            type="range"
            aria-label="Moment of the trail"
            className="flex-1 accent-action"
            min={0}
            max={lines.length}
            value={at}
            onChange={(e) => {
              setPlaying(false);
              setAt(Number(e.target.value));
            }}
          />
          <p role="status" className="w-72 text-right text-sm text-soft tabular">
            {line
              ? `${clock.moment(line.at, Date.now())} · ${stepWords(line, numbers, before.answers, data.writers)}`
              : 'before the first stroke'}
          </p>
        </div>
      </div>
    </main>
  );
}

function Pages({
  data,
  answers,
  strokes,
  numbers,
  changed,
  line,
}: {
  data: Data;
  answers: ReadonlyMap<QuestionId, string>;
  strokes: readonly Mark[];
  numbers: ReadonlyMap<QuestionId, string>;
  changed: CameWent | null;
  /** The step that was done last. */
  line: TrailLine | null;
}) {
  const documents = useMemo(() => data.sheets.map((s) => s.document), [data.sheets]);
  const { pages, settled } = usePageList(documents);
  const ready = settled && pages.length > 0;
  const scroller = useRef<HTMLDivElement>(null);
  const { zoom, measured } = useZoom(scroller, pages, ready, 0);
  const where = changed?.on === 'answer' ? changed.question : null;
  // What changes is brought into sight, also while it plays.
  useEffect(() => {
    if (where && measured) answerIntoSight(scroller.current, where);
  }, [where, measured]);
  const last = useRef<ReturnType<typeof marksByPage>>([]);
  last.current = marksByPage(strokes, pages, last.current);
  const questions = useMemo(
    () =>
      pages.map((p) => {
        const sheet = data.sheets.find((s) => s.document.id === p.document);
        return inPageOrder((sheet?.questions ?? []).filter((q) => q.page === p.page && takesWords(q)));
      }),
    [pages, data.sheets],
  );
  return (
    <div
      ref={scroller}
      data-scroller
      tabIndex={0}
      role="region"
      aria-label="The copy at this moment"
      className="min-h-0 flex-1 overflow-auto p-5"
    >
      {ready && measured ? (
        <SheetStack
          pages={pages}
          zoom={zoom}
          byPage={last.current}
          picked={changed?.on === 'page' ? strokes.filter((s) => s.id === changed.came.at(-1)) : []}
          questions={questions}
          numbers={numbers}
          answerAt={(id) => answers.get(id) ?? ''}
          long={(q, number) => (
            <LinedPaper zoom={zoom} narrow={false} edges={[]}>
              <PlainShow
                words={answers.get(q.id) ?? ''}
                came={line?.subject === q.id ? cameIn(line) : null}
                label={`Text of ${number}`}
              />
            </LinedPaper>
          )}
          over={({ document, page }, view) => {
            const question =
              changed?.on === 'answer' &&
              data.sheets
                .find((s) => s.document.id === document)
                ?.questions.find((q) => q.id === changed.question && q.page === page);
            // In a text that grows it is shown at its very place.
            if (!question || question.answer.kind === 'long') return null;
            return <JustChanged box={boxToScreen(view, question.box)} changed={changed} />;
          }}
        />
      ) : (
        <Waiting what="the pages" />
      )}
    </div>
  );
}

/** What a step put into a text: from where to where. */
function cameIn({ step }: TrailLine): Came | null {
  return step[0] === 't' ? { from: step[1], to: step[1] + step[3].length } : null;
}

/** On the page, at the answer that was just changed: what came and what went, told by a line under and a line through. */
function JustChanged({ box, changed }: { box: Box; changed: CameWent & { on: 'answer' } }) {
  const { came, went } = changed;
  const cut = (text: string) => (text.length > 160 ? `${text.slice(0, 160)} …` : text);
  return (
    <div
      className="pointer-events-none absolute z-10 rounded-[3px] outline-2 outline-offset-2 outline-action"
      style={{ left: box[0], top: box[1], width: box[2] - box[0], height: box[3] - box[1] }}
    >
      {(came || went) && (
        <p className="absolute top-full left-0 mt-1.5 w-max max-w-[26rem] rounded bg-raised px-2 py-1 text-sm leading-snug shadow">
          {went && (
            <>
              <span className="text-soft">went </span>
              <del>{cut(went)}</del>
            </>
          )}
          {went && came && <br />}
          {came && (
            <>
              <span className="text-soft">came </span>
              <ins>{cut(came)}</ins>
            </>
          )}
        </p>
      )}
    </div>
  );
}

function Pasted({
  lines,
  numbers,
  onGo,
}: {
  lines: readonly TrailLine[];
  numbers: ReadonlyMap<QuestionId, string>;
  onGo(line: number): void;
}) {
  const passages = useMemo(() => pastedPassages(lines), [lines]);
  if (passages.length === 0) return null;
  return (
    <section className="mt-5" aria-label="Pasted passages">
      <h2 className="font-bold">{plural(passages.length, 'passage was pasted', 'passages were pasted')}</h2>
      <ul className="mt-1 space-y-1">
        {passages.map((p) => (
          <li key={p.line}>
            <button
              type="button"
              className="w-full rounded px-2 py-1 text-left text-sm hover:bg-action-wash"
              onClick={() => onGo(p.line)}
            >
              <strong>{numbers.get(lines[p.line]!.subject as QuestionId)}</strong> “{p.text.slice(0, 120)}
              {p.text.length > 120 && ' …'}”
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** From the first wording to the last; only resting places are listed, not every key. */
function Way({
  lines,
  question,
  at,
  onGo,
}: {
  lines: readonly TrailLine[];
  question: QuestionId;
  at: number;
  onGo(at: number): void;
}) {
  const way = useMemo(() => restingPlaces(wayOf(lines, question)), [lines, question]);
  if (way.length === 0) return <p className="mt-2 text-sm text-soft">Nothing was written here.</p>;
  return (
    <ol className="mt-2 space-y-1">
      {way.map((w) => (
        <li key={w.line}>
          <button
            type="button"
            aria-current={at === w.line + 1}
            className={`w-full rounded px-2 py-1 text-left text-sm hover:bg-action-wash ${at === w.line + 1 ? 'bg-action-wash' : ''}`}
            onClick={() => onGo(w.line + 1)}
          >
            <span className="block text-xs text-soft">
              <When at={w.at} />
            </span>
            {w.text || 'empty again'}
          </button>
        </li>
      ))}
    </ol>
  );
}

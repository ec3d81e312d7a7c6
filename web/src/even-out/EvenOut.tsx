import { AssignmentId, type CopyId, formatPoints, type PileScores } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Chart, type Figure } from '../frame/Chart.tsx';
import { off } from '../frame/off.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { useKeys } from '../frame/useKeys.ts';
import { addressOfCopy } from '../pile-order/copy-address.ts';
import { plural } from '../time/words.ts';
import { Differently } from './Differently.tsx';
import { Evenings } from './Evenings.tsx';
import {
  type By,
  compared,
  orderFigure,
  sayer,
  secondFigure,
  spreadFigure,
  workingFigure,
} from './figures.ts';
import { Neighbours } from './Neighbours.tsx';
import { SecondLook } from './SecondLook.tsx';
import { ShiftDialog } from './ShiftDialog.tsx';

/** Who comes: a teacher with a pile that is marked, before it goes back. Looks whether the last were judged like the first, compares neighbours, evens out. */
export function EvenOut() {
  const parsed = AssignmentId.safeParse(useParams().assignmentId);
  const scores = useQuery({
    queryKey: keys.pileScores(parsed.data ?? ('' as AssignmentId)),
    queryFn: () => call('pileScores', { params: { assignmentId: parsed.data! } }),
    enabled: parsed.success,
  });
  if (!parsed.success) return <Trouble error={new CallFailed('not-found')} />;
  if (scores.error)
    return (
      <>
        <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Even out' }]} />
        <Trouble error={scores.error} again={() => scores.refetch()} />
      </>
    );
  return scores.data ? (
    <Loaded scores={scores.data} assignmentId={parsed.data} again={() => scores.refetch()} />
  ) : (
    <Waiting what="the scores" />
  );
}

const VIEWS = [
  ['order', 'In the order of marking'],
  ['spread', 'Distribution'],
  ['questions', 'By question'],
  ['criteria', 'By criterion'],
  ['second', 'Two teachers'],
] as const;
type View = (typeof VIEWS)[number][0];

/** What one may compare by. */
function choicesOf(scores: PileScores): { by: By; words: string }[] {
  const { most, asked, rubric } = scores.scoring;
  return [
    ...(most !== null ? [{ by: { of: 'grade' } as const, words: 'grade' }] : []),
    ...(most !== null
      ? asked.flatMap((q) =>
          (q.most ?? 0) > 0
            ? [{ by: { of: 'question', id: q.id } as const, words: `question ${q.label}` }]
            : [],
        )
      : []),
    ...(rubric?.rubric.criteria ?? []).map((c) => ({
      by: { of: 'criterion', id: c.id } as const,
      words: c.name,
    })),
  ];
}

function Loaded({
  scores,
  assignmentId,
  again,
}: {
  scores: PileScores;
  assignmentId: AssignmentId;
  again(): void;
}) {
  const navigate = useNavigate();
  const choices = useMemo(() => choicesOf(scores), [scores]);
  const [choice, setChoice] = useState(0);
  const [view, setView] = useState<View>('order');
  const [here, setHere] = useState<CopyId | null>(null);
  const [shifting, setShifting] = useState(false);
  const by: By = choices[choice]?.by ?? { of: 'grade' };
  const all = useMemo(() => compared(scores, by), [scores, by]);
  const say = useMemo(() => sayer(scores, by), [scores, by]);
  const unit = by.of === 'criterion' ? 2 : 100;
  const sorted = useMemo(() => [...all].sort((a, b) => b.value - a.value), [all]);
  const at = Math.max(
    0,
    sorted.findIndex((c) => c.row.copyId === here),
  );
  const figure = useMemo(() => {
    switch (view) {
      case 'order':
        return orderFigure(
          all,
          say,
          (d) => (unit === 100 ? formatPoints(Math.round(d)) : (d / 2).toFixed(1)),
          unit,
          here ?? sorted[0]?.row.copyId ?? null,
        );
      case 'spread':
        return spreadFigure(all, say);
      case 'questions':
        return workingFigure(scores, 'question');
      case 'criteria':
        return workingFigure(scores, 'criterion');
      case 'second':
        return secondFigure(scores);
    }
  }, [view, all, say, unit, here, sorted, scores]);
  const go = (to: number) => {
    const next = sorted[Math.max(0, Math.min(sorted.length - 1, to))];
    if (next) setHere(next.row.copyId);
  };
  useKeys([
    { keys: 'ArrowLeft', does: () => go(at - 1) },
    { keys: 'ArrowRight', does: () => go(at + 1) },
    {
      keys: 'Enter',
      does: (e) => {
        const copy = sorted[at];
        if (!copy || (e.target as HTMLElement).closest('button, a, select')) return false;
        navigate(addressOfCopy(copy.row));
      },
    },
  ]);
  const marked = scores.rows.filter((r) => r.place === 'marked').length;
  const back = scores.rows.filter((r) => r.place === 'handed-back').length;
  const views = VIEWS.filter(
    ([id]) =>
      (id !== 'questions' || choices.some((c) => c.by.of === 'question')) &&
      (id !== 'criteria' || choices.some((c) => c.by.of === 'criterion')) &&
      (id !== 'second' || scores.scoring.most !== null),
  );
  return (
    <div className="flex min-h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          { text: scores.title, to: `/piles/${assignmentId}` },
          { text: 'Even out' },
        ]}
      >
        <span className="text-sm text-soft">
          {marked} marked, {back === 0 ? 'none' : back} handed back
        </span>
      </TopBar>
      <main className="flex-1 space-y-4 p-4">
        <div className="flex flex-wrap items-stretch gap-4">
          <ChartCard
            views={views}
            view={view}
            onView={setView}
            choices={choices.map((c) => c.words)}
            choice={choice}
            onChoice={setChoice}
            figure={figure}
            onPoint={(i) => all[i] && setHere(all[i].row.copyId)}
          />
          {view !== 'second' && <Differently scores={scores} assignmentId={assignmentId} onLook={setHere} />}
        </div>
        {/* Who gives a second opinion does not see the first before. */}
        {view !== 'second' && (
          <Neighbours
            sorted={sorted}
            all={all}
            at={at}
            say={say}
            by={by}
            scores={scores}
            assignmentId={assignmentId}
            onHere={setHere}
          />
        )}
        {view === 'second' && <SecondLook scores={scores} assignmentId={assignmentId} onDone={again} />}
        <Evenings scores={scores} assignmentId={assignmentId} onDone={again} />
        <Below
          graded={scores.scoring.most !== null}
          marked={marked}
          pile={`/piles/${assignmentId}`}
          onShift={() => setShifting(true)}
        />
        {marked === 0 && (
          <p className="text-soft">
            Nothing is marked and still here: {plural(scores.rows.length, 'copy', 'copies')} in the pile.
          </p>
        )}
      </main>
      {shifting && (
        <ShiftDialog
          scores={scores}
          assignmentId={assignmentId}
          onClose={() => setShifting(false)}
          onDone={() => {
            setShifting(false);
            again();
          }}
        />
      )}
    </div>
  );
}

/** What one does after looking: shift all grades, go to a neighbour, go back. */
function Below({
  graded,
  marked,
  pile,
  onShift,
}: {
  graded: boolean;
  marked: number;
  pile: string;
  onShift(): void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-4">
      {graded && (
        <button
          type="button"
          className="quiet"
          {...off(marked === 0 && 'No copy has a grade yet.')}
          onClick={onShift}
        >
          Shift or stretch the grades …
        </button>
      )}
      <span className="text-sm text-soft">
        a preview of every grade first; the reason is kept; undo stays
      </span>
      <span className="ml-auto text-sm text-soft">
        <span className="key">←</span> <span className="key">→</span> neighbours ·{' '}
        <span className="key">Enter</span> open
      </span>
      <Link className="act" to={pile}>
        Back to the pile
      </Link>
    </div>
  );
}

/** One chart at a time, what it says in a sentence above it. */
function ChartCard({
  views,
  view,
  onView,
  choices,
  choice,
  onChoice,
  figure,
  onPoint,
}: {
  views: readonly (typeof VIEWS)[number][];
  view: View;
  onView(view: View): void;
  choices: readonly string[];
  choice: number;
  onChoice(at: number): void;
  figure: Figure;
  onPoint(at: number): void;
}) {
  return (
    <section className="min-w-[480px] flex-[3] rounded-lg bg-raised p-4 shadow-sm" aria-label="Chart">
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <div role="group" aria-label="Charts" className="flex flex-wrap gap-1">
          {views.map(([id, words]) => (
            <button
              key={id}
              type="button"
              aria-pressed={view === id}
              className={`rounded px-2.5 py-1 text-sm ${view === id ? 'bg-action font-bold text-white' : 'bg-margin hover:bg-action-wash'}`}
              onClick={() => onView(id)}
            >
              {words}
            </button>
          ))}
        </div>
        {(view === 'order' || view === 'spread') && (
          <label className="ml-auto flex items-center gap-2 text-sm">
            by
            <select
              className="field !min-h-8 !w-auto !py-0"
              value={choice}
              onChange={(e) => onChoice(Number(e.target.value))}
            >
              {choices.map((words, i) => (
                <option key={words} value={i}>
                  {words}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      <p className="mb-1 text-sm text-caution">{figure.says}</p>
      <Chart
        key={view}
        figure={figure}
        label={VIEWS.find(([id]) => id === view)![1]}
        {...(view === 'order' && { onPoint: (at: number, trace: number | null) => !trace && onPoint(at) })}
      />
    </section>
  );
}

import { orderToday, plainWords, type TodayPile, waitingIn } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useId } from 'react';
import { Link } from 'react-router';
import { usePrepare } from '../ahead/ahead.ts';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { engine } from '../paper/engine.ts';
import { paceWords, plural } from '../time/words.ts';
import { FirstSteps } from './FirstSteps.tsx';

const ORDER = ['in-again', 'in', 'being-marked', 'marked', 'handed-back', 'with-student'] as const;

/** Who comes: the teacher, with an evening ahead. What waits, how much, how long, and one move to go on. */
export function Today() {
  const { clock } = useHere();
  useEffect(() => engine.warm(), []);
  const today = useQuery({ queryKey: keys.today, queryFn: () => call('today'), refetchInterval: 30_000 });
  const piles = today.data ?? [];
  const { waiting, soon, rest } = orderToday(piles, Date.now());
  const total = waiting.reduce((sum, p) => sum + waitingIn(p), 0);
  return (
    <>
      <TopBar crumbs={[{ text: 'Today' }]}>
        <span className="hidden gap-4 md:flex">
          <Link to="/classes" className="text-action hover:underline">
            Classes
          </Link>
          <Link to="/worksheets" className="text-action hover:underline">
            Worksheets
          </Link>
          <Link to="/rubrics" className="text-action hover:underline">
            Rubrics
          </Link>
          <Link to="/bank" className="text-action hover:underline">
            Comment bank
          </Link>
        </span>
      </TopBar>
      <main className="mx-auto max-w-5xl p-6">
        {today.error ? (
          <Trouble error={today.error} again={() => today.refetch()} />
        ) : today.isPending ? (
          <Waiting what="your piles" />
        ) : piles.length === 0 ? (
          <FirstSteps />
        ) : (
          <>
            <p className="text-soft">{clock.fullDay(Date.now())}</p>
            <p className="mt-1 text-3xl font-bold">
              {total === 0 ? 'Nothing waits to be marked' : `${plural(total, 'copy', 'copies')} to mark`}
              {waiting.length > 1 && (
                <span className="ml-3 text-base font-normal text-soft">
                  in {waiting.length} piles{withComma(paceWords(total, waiting[0]?.pace ?? null))}
                </span>
              )}
            </p>
            {total === 0 && (
              <p className="mt-1 text-soft">
                {soon.length > 0
                  ? 'The evening is yours. What comes next is below.'
                  : 'The evening is yours. Work that is handed in comes up here.'}
              </p>
            )}
            <UnreadWords />
            <div className="mt-6 space-y-5">
              {waiting.map((pile) => (
                <WaitingPile key={pile.assignment.id} pile={pile} />
              ))}
            </div>
            <PileLines title="Due soon" piles={soon} />
            <PileLines title={waiting.length ? 'Nothing to mark here' : 'All other piles'} piles={rest} />
          </>
        )}
      </main>
    </>
  );
}

const withComma = (words: string | null) => (words ? `, ${words}` : '');

/** Piles with nothing to mark, a line each. */
function PileLines({ title, piles }: { title: string; piles: readonly TodayPile[] }) {
  const { clock } = useHere();
  const now = Date.now();
  const id = useId();
  if (piles.length === 0) return null;
  return (
    <section className="mt-8" aria-labelledby={id}>
      <h2 id={id} className="font-bold text-soft">
        {title}
      </h2>
      <ul className="mt-2 divide-y divide-line rounded-lg bg-raised">
        {piles.map(({ assignment, ...pile }) => (
          <li key={assignment.id} className="flex flex-wrap items-center gap-x-4 px-5 py-2.5">
            <Link to={`/piles/${assignment.id}`} className="font-semibold hover:text-action hover:underline">
              {assignment.title}
            </Link>
            <span className="text-soft">
              {assignment.className}
              {assignment.dueAt && assignment.dueAt > now && ` · due ${clock.moment(assignment.dueAt, now)}`}
            </span>
            <span className="ml-auto flex flex-wrap items-center gap-x-4">
              <Counts pile={{ assignment, ...pile }} />
              {pile.counts.marked > 0 && <HandBackLink pile={{ assignment, ...pile }} />}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Words of students that nobody has answered or even read. */
function UnreadWords() {
  const unread = useQuery({ queryKey: keys.unread, queryFn: () => call('unread'), refetchInterval: 30_000 });
  const lines = unread.data ?? [];
  if (lines.length === 0) return null;
  return (
    <section className="mt-5 rounded-lg bg-raised p-4 shadow-sm" aria-label="Messages from students">
      <h2 className="font-bold">Messages from students</h2>
      <ul className="mt-1 divide-y divide-line">
        {lines.slice(0, 8).map((line) => (
          <li key={line.copyId}>
            <Link
              to={`/copies/${line.copyId}/words`}
              className="flex flex-wrap items-baseline gap-x-3 py-1.5 hover:text-action"
            >
              <span className="font-semibold">{line.who}</span>
              <span className="min-w-0 flex-1 truncate">{plainWords(line.words)}</span>
              <span className="text-sm text-soft">
                {line.title}, {line.className} · <When at={line.at} />
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {lines.length > 8 && <p className="mt-1 text-sm text-soft">and {lines.length - 8} more</p>}
    </section>
  );
}

function WaitingPile({ pile }: { pile: TodayPile }) {
  const { clock } = useHere();
  const prepare = usePrepare();
  const waiting = waitingIn(pile);
  const all = ORDER.reduce((sum, p) => sum + pile.counts[p], 0);
  const { assignment, next } = pile;
  return (
    <section
      className="flex flex-wrap items-center gap-x-8 gap-y-4 rounded-lg bg-raised p-5 shadow-sm"
      aria-label={assignment.title}
    >
      <div className="min-w-72 flex-1">
        <h2 className="text-xl font-bold">
          <Link to={`/piles/${assignment.id}`} className="hover:text-action hover:underline">
            {assignment.title}
          </Link>
        </h2>
        <p className="text-soft">
          {assignment.className}
          {assignment.dueAt && ` · due ${clock.moment(assignment.dueAt, Date.now())}`}
          {pile.oldestWaiting && ` · first one handed in ${clock.moment(pile.oldestWaiting, Date.now())}`}
        </p>
        <SideOfStack pile={pile} all={all} />
        <Counts pile={pile} />
      </div>
      <div className="w-64 space-y-2 text-center">
        <p>
          <span className="text-2xl font-bold tabular">{waiting}</span> to mark
          {pile.counts['in-again'] > 0 && (
            <span className="block text-sm font-semibold">{pile.counts['in-again']} handed in again</span>
          )}
          <span className="block text-sm text-soft">{paceWords(waiting, pile.pace) ?? ' '}</span>
        </p>
        {pile.counts.marked > 0 && <HandBackLink pile={pile} />}
        {next && (
          <Link to={`/desk/${next.copyId}`} {...prepare(next.copyId)} className="act block">
            {next.begun
              ? `Go on with ${next.name}${next.page > 0 ? `, page ${next.page + 1}` : ''}`
              : `Begin with ${next.name}`}
          </Link>
        )}
      </div>
    </section>
  );
}

/** What is marked and still held: one move from handing back. */
function HandBackLink({ pile }: { pile: TodayPile }) {
  return (
    <Link
      to={`/piles/${pile.assignment.id}?hand-back`}
      className="quiet block text-center"
      aria-label={`Hand back ${plural(pile.counts.marked, 'copy', 'copies')} of ${pile.assignment.title}`}
    >
      Hand back {plural(pile.counts.marked, 'copy', 'copies')}
    </Link>
  );
}

/** The pile lying on its side: one thin sheet a copy, dark when marked, dashed while with the student. */
function SideOfStack({ pile, all }: { pile: TodayPile; all: number }) {
  const sheets = ORDER.flatMap((place) => Array.from({ length: pile.counts[place] }, () => place));
  return (
    <svg
      viewBox={`0 0 ${Math.max(30, all) * 8} 34`}
      className="mt-3 h-8 max-w-full"
      style={{ width: Math.max(30, all) * 8 }}
      aria-hidden="true"
    >
      {sheets.map((place, i) => {
        const y = 2 + ((i * 7) % 4);
        const done = place === 'marked' || place === 'handed-back';
        return (
          <rect
            key={i}
            x={i * 8 + 1}
            y={y}
            width={5}
            height={28}
            rx={1}
            fill={
              done
                ? 'var(--color-action)'
                : place === 'being-marked'
                  ? 'var(--color-line-strong)'
                  : 'var(--color-paper)'
            }
            stroke={done ? 'var(--color-action)' : 'var(--color-line-strong)'}
            strokeDasharray={place === 'with-student' ? '2 2' : undefined}
            opacity={place === 'handed-back' ? 0.45 : 1}
          />
        );
      })}
    </svg>
  );
}

function Counts({ pile }: { pile: TodayPile }) {
  return (
    <p className="mt-1 flex flex-wrap gap-x-4 text-sm text-soft">
      {ORDER.filter((p) => pile.counts[p] > 0).map((p) => (
        <span key={p} className="inline-flex items-center gap-1.5">
          <PlaceGlyph place={p} size={15} />
          {pile.counts[p]} {PLACE_WORDS[p]}
        </span>
      ))}
      {pile.overdue > 0 && <span className="text-caution">{pile.overdue} overdue</span>}
    </p>
  );
}

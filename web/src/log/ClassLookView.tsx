import { type BehindIt, ClassId, type ClassLook, INK_HEX, plainWords } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Chart, type Figure } from '../frame/Chart.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { plural } from '../time/words.ts';

/** Who comes: a teacher who plans the next lesson. What does the whole class need, which sentence was needed most, who has not acted? */
export function ClassLookView() {
  const parsed = ClassId.safeParse(useParams().classId);
  const look = useQuery({
    queryKey: keys.classLook(parsed.data),
    queryFn: () => call('classLook', { params: { classId: parsed.data! } }),
    enabled: parsed.success,
  });
  return (
    <>
      <TopBar
        crumbs={[
          { text: 'Classes', to: '/classes' },
          ...(look.data ? [{ text: look.data.className, to: `/classes/${parsed.data}` }] : []),
          { text: 'What the class was told' },
        ]}
      />
      <main className="mx-auto max-w-6xl p-4">
        {!parsed.success || look.error ? (
          <Trouble error={look.error ?? new CallFailed('not-found')} again={() => look.refetch()} />
        ) : !look.data ? (
          <Waiting what="the class" />
        ) : look.data.works.every((w) => w.notes === 0) ? (
          <Empty title="No notes have gone back yet">
            As soon as marked work with notes is handed back, what the class needs stands here.
          </Empty>
        ) : (
          <Look look={look.data} classId={parsed.data} />
        )}
      </main>
    </>
  );
}

interface Behind {
  readonly what: string;
  readonly copies: readonly BehindIt[];
}

function Look({ look, classId }: { look: ClassLook; classId: ClassId }) {
  const [focuses, phrases, open] = useMemo(
    () => [focusFigure(look), phraseFigure(look), openFigure(look)],
    [look],
  );
  return (
    <div className="grid items-start gap-4 lg:grid-cols-2">
      <Card
        title="What the notes were about"
        figure={focuses}
        behind={(at, trace) => ({
          what:
            trace === null ? look.works[at]!.title : `${look.focuses[trace]!.name}, ${look.works[at]!.title}`,
          copies: trace === null ? look.focuses.flatMap((f) => f.by[at]!) : look.focuses[trace]!.by[at]!,
        })}
      />
      <Card
        title="Said most often"
        figure={phrases}
        behind={(at) => ({
          what: `“${plainWords(look.phrases[at]!.words)}”`,
          copies: look.phrases[at]!.copies,
        })}
      />
      <Card
        title="Notes that are not dealt with"
        figure={open}
        behind={(at) => ({ what: look.open[at]!.student, copies: look.open[at]!.copies })}
        log={(at) => `/classes/${classId}/log/${look.open[at]!.personId}`}
      />
    </div>
  );
}

function Card({
  title,
  figure,
  behind,
  log,
}: {
  title: string;
  figure: Figure | null;
  behind(at: number, trace: number | null): Behind;
  log?(at: number): string;
}) {
  const [shown, setShown] = useState<(Behind & { at: number }) | null>(null);
  return (
    <section aria-label={title} className="rounded-lg bg-raised p-4 shadow-sm">
      <h2 className="font-bold">{title}</h2>
      {figure ? (
        <>
          <p className="mb-1 text-sm text-soft">{figure.says} Press a bar to see its copies.</p>
          <Chart
            figure={figure}
            label={title}
            onPoint={(at, trace) => setShown({ ...behind(at, trace), at })}
          />
        </>
      ) : (
        <p className="mt-1 text-sm text-soft">Nothing was said twice.</p>
      )}
      {shown && (
        <div role="region" aria-label={`Behind it: ${shown.what}`} className="mt-2 border-t border-line pt-2">
          <p className="text-sm">
            <b>{shown.what}</b>: {plural(shown.copies.length, 'copy', 'copies')}
            {log && (
              <Link to={log(shown.at)} className="ml-3 text-action underline">
                Feedback log
              </Link>
            )}
          </p>
          <ul className="mt-1 max-h-48 columns-2 overflow-auto text-sm">
            {shown.copies.map((c) => (
              <li key={`${c.copyId} ${c.personId} ${c.times}`}>
                <Link to={`/desk/${c.copyId}`} className="text-action hover:underline">
                  {c.student}
                </Link>{' '}
                <span className="text-soft">
                  {c.title}
                  {c.times > 1 && `, ${c.times} ×`}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}

const short = (text: string, most: number): string =>
  text.length > most ? `${text.slice(0, most - 1)}…` : text;
const sum = (copies: readonly BehindIt[]): number => copies.reduce((n, c) => n + c.times, 0);

function focusFigure(look: ClassLook): Figure | null {
  const top = look.focuses[0];
  if (!top) return null;
  const all = look.focuses.reduce((n, f) => n + f.count, 0);
  return {
    data: look.focuses.map((f) => ({
      type: 'bar',
      name: f.name,
      x: look.works.map((w) => short(w.title, 24)),
      y: f.by.map(sum),
      marker: { color: INK_HEX[f.colour] },
      hovertemplate: `${f.name}: %{y}<extra></extra>`,
    })),
    layout: {
      barmode: 'stack',
      showlegend: true,
      margin: { l: 44, r: 12, t: 8, b: 90 },
      xaxis: { automargin: true },
      legend: { orientation: 'h', y: 1.15 },
      yaxis: { title: { text: 'notes' } },
    },
    table: [
      ['Work', ...look.focuses.map((f) => f.name)],
      ...look.works.map((w, i) => [w.title, ...look.focuses.map((f) => String(sum(f.by[i]!)))]),
    ],
    says: `${top.name} comes first: ${top.count} of ${plural(all, 'note', 'notes')} with a focus.`,
  };
}

function phraseFigure(look: ClassLook): Figure | null {
  const top = look.phrases[0];
  if (!top) return null;
  const shown = look.phrases.slice(0, 8);
  return {
    data: [
      {
        type: 'bar',
        orientation: 'h',
        y: shown.map((p) => short(plainWords(p.words), 34)),
        x: shown.map((p) => p.times),
        marker: { color: '#1d4f5e' },
        hovertemplate: '%{x} times<extra></extra>',
      },
    ],
    layout: {
      margin: { l: 230, r: 12, t: 8, b: 40 },
      yaxis: { autorange: 'reversed' },
      xaxis: { title: { text: 'times' } },
    },
    table: [
      ['Phrase', 'Times', 'Copies'],
      ...shown.map((p) => [plainWords(p.words), String(p.times), String(p.copies.length)]),
    ],
    says: `“${short(plainWords(top.words), 60)}” was said ${plural(top.times, 'time', 'times')}.`,
  };
}

function openFigure(look: ClassLook): Figure | null {
  if (look.open.length === 0) return null;
  const notes = look.works.reduce((n, w) => n + w.notes, 0);
  const done = look.works.reduce((n, w) => n + w.done, 0);
  return {
    data: [
      {
        type: 'bar',
        x: look.open.map((o) => o.student),
        y: look.open.map((o) => o.open),
        marker: { color: '#8a4b08' },
        hovertemplate: '%{x}: %{y} open<extra></extra>',
      },
    ],
    layout: {
      margin: { l: 44, r: 12, t: 8, b: 90 },
      xaxis: { automargin: true },
      yaxis: { title: { text: 'open notes' } },
    },
    table: [
      ['Student', 'Open', 'Notes'],
      ...look.open.map((o) => [o.student, String(o.open), String(o.notes)]),
    ],
    says: `${done} of ${plural(notes, 'note is', 'notes are')} dealt with; ${plural(look.open.length, 'student has', 'students have')} open ones.`,
  };
}

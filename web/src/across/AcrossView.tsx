import { type Across, AssignmentId, byKey, type CopyId, formatPoints, QuestionId } from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { useKeys } from '../frame/useKeys.ts';
import { outbox } from '../outbox/outbox.ts';
import { SaveSign } from '../outbox/SaveSign.tsx';
import { useOutbox } from '../outbox/useSheetKeeper.ts';
import { KeyFields } from '../scores/KeyFields.tsx';
import { plural } from '../time/words.ts';
import { AcrossGroup } from './AcrossGroup.tsx';
import { groupsOf, type Shown } from './shown.ts';
import { noteAt, tickAt, useAcross } from './useAcross.ts';

/** Who comes: a teacher who marks one question of everybody, so that the same answer earns the same. Goes down the groups: points, a note, on. */
export function AcrossView() {
  const params = useParams();
  const assignment = AssignmentId.safeParse(params.assignmentId);
  const question = QuestionId.safeParse(params.questionId);
  const fine = assignment.success && question.success;
  useOutbox();
  const across = useQuery({
    queryKey: keys.across(assignment.data ?? ('' as AssignmentId), question.data ?? ('' as QuestionId)),
    queryFn: () => call('across', { params: { assignmentId: assignment.data!, questionId: question.data! } }),
    enabled: fine,
    // What was scored a moment ago is shown as it was scored, not as the server had it before.
    refetchInterval: () => (outbox.standing.waiting ? false : 15_000),
    refetchOnWindowFocus: false,
  });
  if (!fine) return <Trouble error={new CallFailed('not-found')} />;
  if (across.error)
    return (
      <>
        <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Across the class' }]} />
        <Trouble error={across.error} again={() => across.refetch()} />
      </>
    );
  if (!across.data) return <Waiting what="the answers" />;
  return <Loaded key={across.data.question.id} across={across.data} />;
}

function Loaded({ across }: { across: Across }) {
  const { question, assignmentId } = across;
  const key = keys.across(assignmentId, question.id);
  const from = useSearchParams()[0].get('from');
  const moves = useAcross(across, key);
  const shown = useMemo(() => groupsOf(across), [across]);
  const [at, setAt] = useState(0);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [chosen, setChosen] = useState<ReadonlySet<CopyId>>(new Set());
  const [writing, setWriting] = useState<string | null>(null);
  const here = shown[Math.min(at, shown.length - 1)];
  const most = question.most ?? 0;
  const graded = across.graded && most > 0;
  const of = (s: Shown) => {
    const some = s.copies.filter((c) => chosen.has(c.copyId)).map((c) => c.copyId);
    return some.length ? some : s.copies.map((c) => c.copyId);
  };
  const offered = (s: Shown) => (question.key && s.group ? byKey(question.key, s.group.shown, most) : null);
  const go = (to: number) => {
    const next = Math.max(0, Math.min(shown.length - 1, to));
    setAt(next);
    document.getElementById(`across-${next}`)?.scrollIntoView({ block: 'nearest' });
  };
  const give = (s: Shown, points: number | null) => moves.score(of(s), points);
  const unfold = (s: Shown) =>
    setUnfolded((old) => {
      const next = new Set(old);
      if (!next.delete(s.key)) next.add(s.key);
      return next;
    });
  const note = async (s: Shown, words: string) => {
    setWriting(null);
    if (!words.trim()) return;
    const n = await moves.put(of(s), (copy, box) => noteAt(copy, box, words.trim()));
    toast.success(`On ${plural(n, 'copy', 'copies')}, each at its answer.`);
  };
  const undo = async () => {
    const n = await moves.undo();
    if (n) toast(`Undone on ${plural(n, 'copy', 'copies')}.`);
  };
  useKeys([
    { keys: 'ArrowDown', does: () => go(at + 1) },
    { keys: 'ArrowUp', does: () => go(at - 1) },
    { keys: 'ArrowRight', does: () => here && unfold(here) },
    {
      keys: '0 1 2 3 4 5 6 7 8 9',
      does: (e) => {
        const points = Number(e.key) * 100;
        if (!here || !graded || points > most) return false;
        give(here, points);
      },
    },
    {
      keys: '.',
      does: () => here && graded && give(here, Math.min(most, (here.copies[0]?.points ?? 0) + 50)),
    },
    {
      keys: 'Enter',
      does: (e) => {
        if (!here || (e.target as HTMLElement).closest('button, a, summary')) return false;
        const offer = graded ? offered(here)?.offers : null;
        if (offer !== null && offer !== undefined) give(here, offer);
        go(at + 1);
      },
    },
    { keys: 'Backspace Delete', does: () => here && graded && give(here, null) },
    { keys: 'n', does: () => here && setWriting(here.key) },
    { keys: 't', does: () => here && moves.put(of(here), (copy, box) => tickAt(copy, box, null)) },
    { keys: '$mod+z', does: () => void undo() },
  ]);
  const { standing } = outbox;
  return (
    <div className="flex min-h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          { text: across.title, to: `/piles/${assignmentId}` },
          ...(from ? [{ text: 'Back to the copy', to: from }] : []),
          { text: `Question ${question.label} across the class` },
        ]}
      >
        <SaveSign save={standing.save} waiting={standing.waiting} />
        <span className="text-sm text-soft">
          {plural(across.copies.length, 'copy', 'copies')} ·{' '}
          {plural(shown.filter((s) => s.group).length, 'group', 'groups')}
        </span>
      </TopBar>
      <main className="flex flex-1 items-start gap-4 p-4">
        <Side across={across} from={from} canUndo={moves.canUndo} onUndo={undo} />
        <section
          className="min-w-0 flex-1 rounded-lg bg-raised shadow-sm"
          aria-label={`Answers to question ${question.label}`}
        >
          <div className="flex flex-wrap items-baseline gap-3 px-4 py-3">
            <h1 className="text-lg font-bold">
              Question {question.label}
              {question.name && `: ${question.name}`}
            </h1>
            <span className="text-sm text-soft">
              {graded ? (most === 100 ? '1 point' : `${formatPoints(most)} points`) : 'no points'}
            </span>
            <span className="ml-auto text-sm text-soft">the same answers are grouped</span>
          </div>
          {across.copies.length === 0 && <p className="px-4 pb-6 text-soft">Nothing came in yet.</p>}
          <ul>
            {shown.map((s, i) => (
              <AcrossGroup
                key={s.key}
                at={i}
                shown={s}
                across={across}
                here={i === at}
                unfolded={unfolded.has(s.key)}
                chosen={chosen}
                offered={graded ? offered(s) : null}
                writing={writing === s.key}
                does={{
                  here: () => setAt(i),
                  unfold: () => unfold(s),
                  choose: (id) =>
                    setChosen((old) => {
                      const next = new Set(old);
                      if (!next.delete(id)) next.add(id);
                      return next;
                    }),
                  give: (points) => give(s, points),
                  giveOne: (id, points) => moves.score([id], points),
                  tick: () => moves.put(of(s), (copy, box) => tickAt(copy, box, null)),
                  write: () => setWriting(s.key),
                  note: (words) => note(s, words),
                }}
              />
            ))}
          </ul>
        </section>
      </main>
    </div>
  );
}

function Side({
  across,
  from,
  canUndo,
  onUndo,
}: {
  across: Across;
  from: string | null;
  canUndo: boolean;
  onUndo(): void;
}) {
  const client = useQueryClient();
  const { question, assignmentId } = across;
  const [editing, setEditing] = useState(false);
  useEffect(() => () => tell(client, 'scoredAcross', { assignmentId }), [client, assignmentId]);
  const back = from ? `?from=${encodeURIComponent(from)}` : '';
  return (
    <aside className="sticky top-4 w-56 shrink-0 space-y-4" aria-label="Questions">
      <ul className="space-y-1">
        {across.progress.map((p) => (
          <li key={p.id}>
            <Link
              to={`/piles/${assignmentId}/across/${p.id}${back}`}
              replace
              aria-current={p.id === question.id ? 'page' : undefined}
              className={`flex items-center gap-3 rounded-lg px-3 py-1.5 tabular ${p.id === question.id ? 'border-2 border-action bg-paper' : 'hover:bg-raised'}`}
            >
              <b className="w-6">{p.label}</b>
              <span className="h-2 flex-1 rounded bg-line" aria-hidden="true">
                <span
                  className="block h-2 rounded bg-action"
                  style={{ width: `${p.of ? (p.scored / p.of) * 100 : 0}%` }}
                />
              </span>
              <span className="text-sm">
                {p.scored}/{p.of}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {question.answer && question.worksheetId && (
        <div className="border-t border-line-strong pt-3">
          {editing ? (
            <KeyFields
              answer={question.answer}
              value={question.key}
              onKey={(key) =>
                call('saveKey', {
                  params: { worksheetId: question.worksheetId as never, questionId: question.id },
                  body: { key },
                }).then(
                  () => tell(client, 'keyChanged', {}),
                  (error) => void toast.error(sentenceOf(error)),
                )
              }
            />
          ) : (
            <>
              <p className="text-sm text-soft">The key of question {question.label}</p>
              <p className="font-semibold text-answer">{keyWords(question.key)}</p>
            </>
          )}
          <button
            type="button"
            className="mt-1 text-sm text-action underline"
            onClick={() => setEditing(!editing)}
          >
            {editing ? 'Done' : question.key ? 'Change the key' : 'Add a key'}
          </button>
        </div>
      )}
      <dl className="grid grid-cols-[4.5rem_1fr] gap-y-1 border-t border-line-strong pt-3 text-[13px] text-soft">
        {HINTS.map(([keyName, does]) => (
          <div key={keyName} className="contents">
            <dt>
              <span className="key">{keyName}</span>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <button type="button" className="quiet w-full" disabled={!canUndo} onClick={onUndo}>
        Undo
      </button>
    </aside>
  );
}

const HINTS = [
  ['↑ ↓', 'group'],
  ['0 … 9', 'points for the group'],
  ['.', 'half a point more'],
  ['Enter', 'accept the key’s points, next group'],
  ['→', 'show the copies one by one'],
  ['n', 'a note for the group'],
  ['t', 'a tick on the group'],
  ['Ctrl Z', 'undo, all of them'],
] as const;

function keyWords(key: Across['question']['key']): string {
  if (!key) return 'none';
  switch (key.of) {
    case 'wordings':
      return key.accepted.join(' · ');
    case 'choice':
      return key.options.join(', ');
    case 'number':
      return [key.value, key.tolerance === '0' ? '' : `± ${key.tolerance}`, key.unit]
        .filter(Boolean)
        .join(' ');
  }
}

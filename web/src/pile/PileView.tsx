import {
  AssignmentId,
  type CopyId,
  formatGrade,
  type Pile,
  type PileRow,
  WHOLE_PILE,
  waits,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { usePrepare } from '../ahead/ahead.ts';
import { addressOf, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { Fold } from '../frame/Fold.tsx';
import { off } from '../frame/off.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { SHEETS, TakeOut, type Way } from '../frame/TakeOut.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { PHONE, useMedia } from '../frame/useMedia.ts';
import { useLive } from '../live/useLive.ts';
import { outbox } from '../outbox/outbox.ts';
import { SaveSign } from '../outbox/SaveSign.tsx';
import { useOutbox } from '../outbox/useSheetKeeper.ts';
import { usePile } from '../pile-order/usePile.ts';
import { useArranged, usePileView } from '../pile-order/usePileView.ts';
import { paceWords, plural } from '../time/words.ts';
import { useBlind, useHandBack, useHandBackOne, useRecall } from './acts.ts';
import { FilesDrop } from './FilesDrop.tsx';
import { LeftRows } from './LeftRows.tsx';
import { ManyTools } from './ManyTools.tsx';
import { Orders } from './Orders.tsx';
import { PileSheets } from './PileSheets.tsx';
import { PileTable } from './PileTable.tsx';
import { PileTools } from './PileTools.tsx';
import { StackSide } from './StackSide.tsx';
import { takesFiles, useFilesFor } from './useFilesFor.ts';
import { useHandBackPlan } from './useHandBackPlan.ts';

/** Dialogs are loaded when they are wanted. */
const BringIn = onDemand(() => import('./BringIn.tsx').then((m) => m.BringIn));
const HandBackDialog = onDemand(() => import('./HandBackDialog.tsx').then((m) => m.HandBackDialog));
const RecallDialog = onDemand(() => import('./RecallDialog.tsx').then((m) => m.RecallDialog));

/** Who comes: the teacher before and after marking. Who is in, who is missing, go on, and hand back what is marked. */
export function PileView() {
  const parsed = AssignmentId.safeParse(useParams().assignmentId);
  const pile = usePile(parsed.success ? parsed.data : null);
  const [bringing, setBringing] = useState(false);
  return (
    <div className="flex min-h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          { text: pile.data ? `${pile.data.assignment.className}: ${pile.data.assignment.title}` : 'Pile' },
        ]}
      >
        {parsed.success && (
          <>
            <Typed />
            <Link to={`/room/${parsed.data}`} className="text-action hover:underline">
              Walk the room
            </Link>
            <Link to={`/assignments/${parsed.data}`} className="text-action hover:underline">
              Assignment
            </Link>
            {pile.data?.rows.some(takesMarks) && (
              <button type="button" className="text-action hover:underline" onClick={() => setBringing(true)}>
                Bring in marked PDFs
              </button>
            )}
            {pile.data?.rows.some((r) => r.handInId) && <TakeOut ways={pileWays(parsed.data)} />}
          </>
        )}
      </TopBar>
      {!parsed.success || pile.error ? (
        <Trouble error={pile.error} again={() => pile.refetch()} />
      ) : pile.data ? (
        <>
          <Loaded pile={pile.data} />
          {bringing && (
            <BringIn
              assignmentId={pile.data.assignment.id}
              rows={pile.data.rows.filter(takesMarks)}
              open
              onClose={() => setBringing(false)}
            />
          )}
        </>
      ) : (
        <Waiting what="the pile" />
      )}
    </div>
  );
}

const pileWays = (assignmentId: AssignmentId): Way[] => [
  {
    label: 'Marked PDFs of all, as zip',
    order: { what: 'pile', assignmentId, copyIds: null, as: 'zip' },
  },
  {
    label: 'To print: notes beside the pages',
    order: { what: 'pile', assignmentId, copyIds: null, as: 'print-beside' },
  },
  {
    label: 'To print: notes on an extra page',
    order: { what: 'pile', assignmentId, copyIds: null, as: 'print' },
  },
  {
    label: 'To print: without marks',
    order: { what: 'pile', assignmentId, copyIds: null, as: 'print-unmarked' },
  },
  ...SHEETS.map(
    ([as, label]): Way => ({ label: `Scores as ${label}`, order: { what: 'scores', assignmentId, as } }),
  ),
];

/** What was typed into the pile and is not saved yet. Where all is saved there is nothing to say. */
function Typed() {
  useOutbox();
  const { save, waiting } = outbox.standing;
  return waiting ? <SaveSign save={save} waiting={waiting} /> : null;
}

/** A copy that is in and can still be marked. */
const takesMarks = (row: PileRow) => row.handInId !== null && (waits(row.place) || row.place === 'marked');

/** What of a pile is chosen, what of that can go back, and what comes back in. */
function useGoing(pile: Pile, rows: readonly PileRow[]) {
  const [chosen, setChosen] = useState<ReadonlySet<CopyId>>(new Set());
  const [search, setSearch] = useSearchParams();
  const [asking, setAsking] = useState(false);
  const [recalling, setRecalling] = useState(false);
  const plan = useHandBackPlan();
  const chosenRows = useMemo(() => rows.filter((r) => chosen.has(r.copyId)), [rows, chosen]);
  const goes = (r: PileRow) => r.place === 'marked' || (plan.how.unfinished && r.place === 'being-marked');
  // Nothing chosen means all that are marked: the usual evening ends with one move.
  const from = chosen.size ? chosenRows : rows;
  const going = from.filter(goes);
  const staying = from.filter((r) => !goes(r) && r.place !== 'handed-back');
  const done = () => {
    setAsking(false);
    setRecalling(false);
    setChosen(new Set());
    if (search.has('hand-back')) setSearch({}, { replace: true });
  };
  const ask = () => {
    plan.begin();
    setAsking(true);
  };
  return {
    chosen,
    setChosen,
    chosenRows,
    going,
    staying,
    back: chosenRows.filter((r) => r.back !== null && r.place !== 'in-again'),
    plan,
    /** Asked for by its address too: Today is one move from here. */
    asking: asking || (search.has('hand-back') && going.length > 0),
    ask,
    recalling,
    recall: () => setRecalling(true),
    done,
    handBack: useHandBack(pile, done),
    recallAct: useRecall(pile, done),
    one: useHandBackOne(pile, (row) => {
      setChosen(new Set([row.copyId]));
      ask();
    }),
  };
}

function Loaded({ pile }: { pile: Pile }) {
  const tell = useTell();
  const all = pile.rows;
  const [view, setView] = usePileView(pile.assignment.id);
  const [form, setForm] = useState<'lines' | 'sheets'>(() =>
    localStorage.getItem('jotmark.pile-form') === 'sheets' ? 'sheets' : 'lines',
  );
  const rows = useArranged(all, view);
  const go = useGoing(pile, rows);
  const filesFor = useFilesFor(pile);
  const { chosen, setChosen, going } = go;
  const { most } = pile.assignment;
  const { scale } = pile.scoring;
  const say = useCallback((grade: number) => formatGrade(grade, most ?? grade, scale), [most, scale]);
  const toggle = useCallback(
    (id: CopyId) =>
      setChosen((before) => {
        const next = new Set(before);
        if (!next.delete(id)) next.add(id);
        return next;
      }),
    [setChosen],
  );
  useLive(
    addressOf('roomLive', { assignmentId: pile.assignment.id }),
    (hint) => {
      if (['hand-in', 'word', 'hand-back', 'recall'].includes(hint.kind))
        tell('pileChanged', { assignmentId: pile.assignment.id });
    },
    () => {},
  );

  if (all.length === 0)
    return (
      <Empty title="This pile is empty">
        When students get copies of “{pile.assignment.title}”, each copy is one line here.
      </Empty>
    );
  return (
    <main className="flex flex-1 flex-wrap items-start gap-4 p-4">
      <PileSide pile={pile} rows={rows} onFiles={() => filesFor.begin([])} />
      <FilesDrop pile={pile} filesFor={filesFor}>
        <div className="flex min-h-14 flex-wrap items-center gap-x-4 gap-y-1 py-1">
          <PileTools
            rows={all}
            view={view}
            form={form}
            onView={setView}
            onForm={(next) => {
              setForm(next);
              localStorage.setItem('jotmark.pile-form', next);
            }}
          />
          <p className="text-soft">
            {chosen.size
              ? `${plural(chosen.size, 'copy', 'copies')} chosen`
              : `${plural(rows.length, 'copy', 'copies')}${rows.length < all.length ? ` of ${all.length}` : ''}`}
            {pile.assignment.most !== null && ` · out of ${pile.assignment.most / 100}`}
          </p>
          {chosen.size > 0 && (
            <button
              type="button"
              className="text-sm text-action underline"
              onClick={() => setChosen(new Set())}
            >
              choose none
            </button>
          )}
          <HandBackButtons go={go} />
        </div>
        <Orders pile={pile} />
        {go.chosenRows.length > 0 && (
          <ManyTools pile={pile} chosen={go.chosenRows} onDone={() => setChosen(new Set())} />
        )}
        {rows.length === 0 ? (
          <p className="py-8 text-center text-soft">
            No copy matches.{' '}
            <button type="button" className="text-action underline" onClick={() => setView(WHOLE_PILE)}>
              Show the whole pile
            </button>
          </p>
        ) : form === 'lines' ? (
          <PileTable most={most} scale={scale} rows={rows} chosen={chosen} onChoose={setChosen} />
        ) : (
          <PileSheets rows={rows} chosen={chosen} blind={pile.blind} say={say} onToggle={toggle} />
        )}
        <LeftRows rows={pile.left} say={say} />
      </FilesDrop>
      {go.asking && (
        <HandBackDialog
          pile={pile}
          plan={go.plan}
          going={going}
          staying={go.staying}
          busy={go.handBack.isPending}
          onCancel={go.done}
          onHandBack={() =>
            go.handBack.mutate({
              copyIds: going.map((r) => r.copyId),
              how: go.plan.how,
              at: go.plan.at,
            })
          }
        />
      )}
      {go.recalling && (
        <RecallDialog
          rows={go.back}
          busy={go.recallAct.isPending}
          onCancel={go.done}
          onRecall={(how) => go.recallAct.mutate({ copyIds: go.back.map((r) => r.copyId), ...how })}
        />
      )}
    </main>
  );
}

/** The pile from the side: how far one is, where to go on, and what else is done with it. */
function PileSide({ pile, rows, onFiles }: { pile: Pile; rows: readonly PileRow[]; onFiles(): void }) {
  const prepare = usePrepare();
  const today = useQuery({ queryKey: keys.today, queryFn: () => call('today') });
  const waiting = rows.filter((r) => waits(r.place));
  const next = waiting.find((r) => r.place === 'being-marked') ?? waiting[0];
  const phone = useMedia(PHONE);
  const more = (
    <>
      <AfterBack rows={pile.rows} />
      <Blind pile={pile} />
      <PileLinks pile={pile} />
      {!pile.blind && pile.rows.some(takesFiles) && (
        <button
          type="button"
          className="mt-2 min-h-6 text-left text-sm text-action hover:underline"
          onClick={onFiles}
        >
          Hand in for students …
        </button>
      )}
    </>
  );
  return (
    <StackSide rows={pile.rows}>
      <p className="text-2xl font-bold">
        {waiting.length ? `${waiting.length} to mark` : 'Nothing left to mark'}
      </p>
      <p className="min-h-5 text-sm text-soft">
        {paceWords(
          waiting.length,
          today.data?.find((p) => p.assignment.id === pile.assignment.id)?.pace ?? null,
        )}
      </p>
      {next && (
        <Link to={`/desk/${next.copyId}`} {...prepare(next.copyId)} className="act mt-3 block text-center">
          {next.place === 'being-marked'
            ? `Go on with ${next.student.given}`
            : `Begin with ${next.student.given}`}
        </Link>
      )}
      {phone ? (
        <Fold name="pile.more" className="mt-3" head="Blind marking, scores, more">
          {more}
        </Fold>
      ) : (
        more
      )}
    </StackSide>
  );
}

/** What goes back with one move, and what comes back in. */
function HandBackButtons({ go }: { go: ReturnType<typeof useGoing> }) {
  const { going, chosen, back } = go;
  const one = chosen.size === 1 && going.length === 1 ? going[0]! : null;
  const begun = going.length === 0 && go.staying.some((r) => r.place === 'being-marked');
  return (
    <div className="ml-auto flex items-center gap-2">
      {back.length > 0 && (
        <button type="button" className="quiet" onClick={go.recall}>
          Recall {plural(back.length, 'copy', 'copies')}
        </button>
      )}
      {one && (
        <button type="button" className="quiet" onClick={go.ask}>
          Options …
        </button>
      )}
      <button
        type="button"
        className="act"
        {...off(
          going.length === 0 && !begun && 'No copy is marked yet. A copy goes back once it is called marked.',
        )}
        onClick={() => (one ? go.one(one) : go.ask())}
      >
        {going.length ? `Hand back ${plural(going.length, 'copy', 'copies')}` : 'Hand back'}
      </button>
    </div>
  );
}

/** What the class has done with what it got back. */
function AfterBack({ rows }: { rows: readonly PileRow[] }) {
  const back = rows.flatMap((r) => r.back ?? []);
  if (back.length === 0) return null;
  const sum = (of: 'notes' | 'opened' | 'done' | 'recordings' | 'heard') =>
    back.reduce((n, b) => n + b[of], 0);
  return (
    <p className="mt-4 text-sm text-soft">
      {plural(back.length, 'copy', 'copies')} handed back, looked at:{' '}
      {back.filter((b) => b.seenAt !== null).length}.
      {sum('notes') > 0 &&
        ` ${plural(sum('notes'), 'note', 'notes')}, opened: ${sum('opened')}, done: ${sum('done')}.`}
      {sum('recordings') > 0 &&
        ` ${plural(sum('recordings'), 'recording', 'recordings')}, listened to: ${sum('heard')}.`}
    </p>
  );
}

/** What else is done with a pile: its scores as a table, question by question, evened out. */
function PileLinks({ pile }: { pile: Pile }) {
  const at = `/piles/${pile.assignment.id}`;
  const links = [
    [`${at}/scores`, 'Table of scores', true],
    [`${at}/across/${pile.asked[0]?.id}`, 'One question across the class', pile.asked.length > 0],
    [`${at}/even-out`, 'Even out', pile.assignment.most !== null],
  ] as const;
  return (
    <ul className="mt-4 space-y-1 text-sm">
      {links.map(
        ([to, words, has]) =>
          has && (
            <li key={to}>
              <Link className="text-action hover:underline" to={to}>
                {words}
              </Link>
            </li>
          ),
      )}
    </ul>
  );
}

function Blind({ pile }: { pile: Pile }) {
  const [blind, setBlind] = useBlind(pile);
  return (
    <label className="mt-4 flex items-start gap-2 text-sm">
      <input
        type="checkbox"
        className="mt-0.5 size-4 accent-action"
        checked={blind}
        onChange={(e) => setBlind(e.target.checked)}
      />
      <span>
        Mark blind
        <span className="block text-soft">Names are hidden until the copies are handed back.</span>
      </span>
    </label>
  );
}

import {
  CopyId,
  type PileRow,
  type QuestionId,
  type Round,
  type ScoreSheet,
  standingScores,
  tallyOf,
} from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Redo2, Undo2 } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { WordsFold } from '../conversation/WordsFold.tsx';
import { IconButton } from '../frame/IconButton.tsx';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { useKeys } from '../frame/useKeys.ts';
import { When } from '../frame/When.tsx';
import { Clashes } from '../marks/Clashes.tsx';
import { aloneSheet } from '../outbox/alone.ts';
import { keptState } from '../outbox/kept-state.ts';
import { SaveSign } from '../outbox/SaveSign.tsx';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useDraft } from '../outbox/useDraft.ts';
import { useKept, useSheetKeeper } from '../outbox/useSheetKeeper.ts';
import { addressOfCopy } from '../pile-order/copy-address.ts';
import { toNextOpen } from '../scores/next-open.ts';
import { ScoresPart } from '../scores/ScoresPart.tsx';
import { askedIn, type ScoreSite } from '../scores/useScored.ts';
import { ScoreSlip } from '../slip/ScoreSlip.tsx';
import { ScoreStrip } from './ScoreStrip.tsx';
import { useScorePlace } from './useScorePlace.ts';

/** Who comes: a teacher who listens to a talk, reads paper, or looks over work still being done. Scores it, says a word, goes on to the next. */
export function ScoreView() {
  const parsed = CopyId.safeParse(useParams().copyId);
  const client = useQueryClient();
  const sheet = useQuery({
    queryKey: keys.score(parsed.data ?? ('' as CopyId)),
    queryFn: () => call('scoreSheet', { params: { copyId: parsed.data! } }),
    enabled: parsed.success,
    refetchOnWindowFocus: false,
  });
  const copyId = parsed.data;
  // What the server said on arrival is old once something was scored here.
  useEffect(
    () => () => void (copyId && client.removeQueries({ queryKey: keys.score(copyId) })),
    [client, copyId],
  );
  if (!parsed.success) return <Trouble error={new CallFailed('not-found')} />;
  if (sheet.error)
    return (
      <>
        <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Scores' }]} />
        <Trouble error={sheet.error} again={() => sheet.refetch()} />
      </>
    );
  return sheet.data ? (
    <Opened key={parsed.data} sheet={sheet.data} again={() => sheet.refetch()} />
  ) : (
    <Waiting what="the scores" />
  );
}

function Opened({ sheet, again }: { sheet: ScoreSheet; again(): void }) {
  const keeper = useSheetKeeper(aloneSheet(sheet.copyId), () => keptState(sheet.marking));
  return keeper ? <Loaded sheet={sheet} keeper={keeper} again={again} /> : <Waiting what="the scores" />;
}

const NO_ANSWERS: ReadonlyMap<QuestionId, string> = new Map();

/** Writes closing or midway words; kept with the very key. */
function useWords(sheet: ScoreSheet, keeper: SheetKeeper) {
  const me = useHere().session.person!.id;
  const commit = useCallback(
    (field: 'closing' | 'midway', words: string) => keeper.write(field, words, field),
    [keeper],
  );
  const written = useCallback(() => keeper.written(), [keeper]);
  return useDraft<'closing' | 'midway'>({
    place: `jotmark.closing.${me}.${aloneSheet(sheet.copyId)}`,
    commit,
    written,
  });
}

function Loaded({ sheet, keeper, again }: { sheet: ScoreSheet; keeper: SheetKeeper; again(): void }) {
  const navigate = useNavigate();
  const stands = useKept(keeper, sheetOf);
  const save = useKept(keeper, saveOf);
  const clashes = useKept(keeper, clashesOf);
  const { scoring } = sheet;
  const cameIn = sheet.handInNumber > 0;
  const hasMidway = scoring.rubric !== null;
  const [round, setRound] = useState<Round>(cameIn && hasMidway ? 'midway' : 'final');
  const place = useScorePlace(sheet);
  const words = useWords(sheet, keeper);
  const grade = useRef<HTMLInputElement>(null);
  const closing = useRef<HTMLTextAreaElement>(null);
  const readOnly = round === 'midway' ? scoring.midwayAt !== null : sheet.handedBack || cameIn;
  const site = useMemo(
    (): ScoreSite => ({
      most: sheet.assignment.most,
      scoring: { ...scoring, earlier: [] },
      asked: askedIn(sheet.asked, scoring, null),
      late: 0,
    }),
    [sheet, scoring],
  );
  const shown = useMemo(() => {
    const field = round === 'midway' ? stands.slip.midway : stands.slip.closing;
    const typed =
      words.draft?.about === (round === 'midway' ? 'midway' : 'closing') ? words.draft.words : null;
    return { ...stands.slip, closing: { ...field, value: typed ?? field.value } };
  }, [stands.slip, round, words.draft]);
  const go = (row: PileRow | null) => {
    words.flush();
    if (row) navigate(addressOfCopy(row));
  };
  const done = (is: boolean, goOn: boolean) => {
    words.flush();
    keeper.write('done', is);
    if (!goOn) return;
    if (place.next) return go(place.next);
    toast.success('That was the last one.');
    navigate(`/piles/${sheet.assignment.id}`);
  };
  const toNext = () => {
    const scores = standingScores(stands);
    const tally = tallyOf(site.most === null ? [] : site.asked, [], scores);
    return toNextOpen(tally, scoring.rubric?.rubric ?? null, scores, round);
  };
  useScoreKeys({
    done: () => !readOnly && round === 'final' && done(true, true),
    undo: () => keeper.undo(),
    redo: () => keeper.redo(),
    nextOpen: toNext,
    grade: () => (grade.current ? grade.current.focus() : false),
    words: () => closing.current?.focus(),
    next: () => go(place.next),
    before: () => go(place.before),
  });
  return (
    <div className="flex h-full flex-col">
      <ScoreBar sheet={sheet} keeper={keeper} pending={words.pending} />
      <main className="relative flex min-h-0 flex-1">
        <Clashes
          clashes={clashes}
          sheet={stands}
          onSettle={(clash, choice) => keeper.settle(clash, choice)}
        />
        <ScoreStrip
          rows={place.rows}
          here={sheet.copyId}
          most={sheet.assignment.most}
          scale={scoring.scoring.scale}
        />
        <div className="min-h-0 flex-1">
          <ScoreSlip
            about={aboutWords(sheet)}
            slip={shown}
            marks={null}
            selected={NO_MARKS}
            state={readOnly ? 'handed-back' : 'open'}
            last={!place.next}
            size={null}
            parts={{
              voice: null,
              scores: (
                <>
                  {hasMidway && <Rounds round={round} onRound={setRound} final={!cameIn} />}
                  <ScoresPart
                    key={round}
                    site={site}
                    keeper={keeper}
                    sheetId={aloneSheet(sheet.copyId)}
                    sheet={stands}
                    marks={NO_MARKS}
                    round={round}
                    answers={NO_ANSWERS}
                    readOnly={readOnly}
                    gradeRef={grade}
                  />
                </>
              ),
            }}
            closingRef={closing}
            does={{
              onClosing: (text) => words.type(round === 'midway' ? 'midway' : 'closing', text),
              onDone: done,
              onNext: () => go(place.next),
              onPick: () => {},
              onChangeAgain: () =>
                call('changeAgain', { params: { copyId: sheet.copyId } })
                  .then(again)
                  .catch((error) => toast.error(sentenceOf(error))),
            }}
            {...(round === 'midway' && {
              round: {
                wordsName: 'Midway comment',
                end: (
                  <Release
                    sheet={sheet}
                    saved={save === 'saved' && !words.pending}
                    flush={words.flush}
                    onDone={again}
                  />
                ),
              },
            })}
          >
            <div className="mt-4">
              <WordsFold
                copyId={sheet.copyId}
                title={`Messages with ${sheet.student.given}`}
                withWhom={sheet.student.given}
                className="text-sm text-soft"
              />
            </div>
            {cameIn && (
              <p className="mt-3 text-sm">
                It came in:{' '}
                <Link className="text-action underline" to={`/desk/${sheet.copyId}`}>
                  mark it at the desk
                </Link>
                .
              </p>
            )}
          </ScoreSlip>
        </div>
      </main>
    </div>
  );
}

const sheetOf = (view: KeeperView) => view.sheet;
const saveOf = (view: KeeperView) => view.save;
const waitingOf = (view: KeeperView) => view.waiting;
const undoOf = (view: KeeperView) => view.canUndo;
const redoOf = (view: KeeperView) => view.canRedo;
const clashesOf = (view: KeeperView) => view.clashes;

/** Whose scores these are, whether all is kept, and what takes the last thing back. */
function ScoreBar({ sheet, keeper, pending }: { sheet: ScoreSheet; keeper: SheetKeeper; pending: boolean }) {
  const save = useKept(keeper, saveOf);
  const waiting = useKept(keeper, waitingOf);
  const canUndo = useKept(keeper, undoOf);
  const canRedo = useKept(keeper, redoOf);
  return (
    <TopBar
      crumbs={[
        { text: 'Today', to: '/' },
        { text: sheet.assignment.title, to: `/piles/${sheet.assignment.id}` },
        { text: `${sheet.student.given} ${sheet.student.family}` },
      ]}
    >
      <SaveSign save={pending && save === 'saved' ? 'saving' : save} waiting={waiting} />
      <span className="flex items-center text-soft">
        <IconButton label="Undo" disabled={!canUndo} onClick={() => keeper.undo()} icon={Undo2} />
        <IconButton label="Redo" disabled={!canRedo} onClick={() => keeper.redo()} icon={Redo2} />
      </span>
    </TopBar>
  );
}

/** The keys of this view, the same as at the desk. */
function useScoreKeys(k: {
  done(): unknown;
  undo(): unknown;
  redo(): unknown;
  nextOpen(): boolean;
  grade(): unknown;
  words(): unknown;
  next(): unknown;
  before(): unknown;
}): void {
  useKeys([
    { keys: '$mod+Enter', does: k.done, inFields: true },
    { keys: '$mod+z', does: k.undo },
    { keys: '$mod+Shift+z', does: k.redo },
    { keys: 'u', does: k.nextOpen },
    { keys: 'g', does: k.grade },
    { keys: 'c', does: k.words },
    { keys: 'n', does: k.next },
    { keys: 'b', does: k.before },
  ]);
}

const NO_MARKS: readonly never[] = [];

const aboutWords = ({ place, handInNumber }: ScoreSheet): string =>
  handInNumber
    ? `hand-in ${handInNumber} came in`
    : place === 'marked'
      ? 'nothing came in · marked'
      : 'nothing came in';

/** Which round is scored: midway, while it is still worked on, or the final one. */
function Rounds({ round, onRound, final }: { round: Round; onRound(round: Round): void; final: boolean }) {
  const each = (of: Round, label: string) => (
    <button
      type="button"
      aria-pressed={round === of}
      className={`rounded px-3 py-1 text-sm ${round === of ? 'bg-action font-bold text-white' : 'bg-tray hover:bg-action-wash'}`}
      onClick={() => onRound(of)}
    >
      {label}
    </button>
  );
  return (
    <div className="mt-3 flex gap-1" role="group" aria-label="Round">
      {each('midway', 'Midway')}
      {final && each('final', 'Final')}
    </div>
  );
}

/** Releases the midway round of this one copy. */
function Release({
  sheet,
  saved,
  flush,
  onDone,
}: {
  sheet: ScoreSheet;
  saved: boolean;
  flush(): void;
  onDone(): void;
}) {
  const tell = useTell();
  const [busy, setBusy] = useState(false);
  const { midwayAt } = sheet.scoring;
  if (midwayAt !== null)
    return (
      <p className="text-soft">
        Released <When at={midwayAt} />. It stays as it was.
      </p>
    );
  const release = async () => {
    flush();
    setBusy(true);
    try {
      await call('releaseMidway', {
        params: { assignmentId: sheet.assignment.id },
        body: { copyIds: [sheet.copyId] },
      });
      toast.success(`${sheet.student.given} sees the midway round now, and works on.`);
      tell('handedBack', { assignmentId: sheet.assignment.id });
      onDone();
    } catch (error) {
      toast.error(sentenceOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <p className="text-sm text-soft">
        {sheet.student.given} sees this round alone, without a grade, and goes on working.
      </p>
      <button type="button" className="act w-full" disabled={busy || !saved} onClick={release}>
        Release the midway round
      </button>
    </>
  );
}

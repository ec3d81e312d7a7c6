import {
  type CopyId,
  coverOf,
  type HandInId,
  inPageOrder,
  isMovable,
  type Mark,
  type MarkId,
  moveMark,
  numberQuestions,
  overlaps,
  type PersonId,
  type Question,
  type QuestionId,
  STUDENT_TRAY,
  standingMarks,
  takesWords,
  type Work,
} from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown, ChevronUp, Redo2, Undo2 } from 'lucide-react';
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { addressOf } from '../api/call.ts';
import { tell } from '../ask/stale.ts';
import { conversationQuery } from '../conversation/Conversation.tsx';
import { type Pin, SheetStack } from '../fields/SheetStack.tsx';
import { IconButton } from '../frame/IconButton.tsx';
import { useHere } from '../frame/session.tsx';
import { Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import type { PadHost } from '../hand/pad.ts';
import { usePad } from '../hand/usePad.ts';
import { useZoom } from '../hand/useZoom.ts';
import { useLive } from '../live/useLive.ts';
import { Clashes } from '../marks/Clashes.tsx';
import { exchange, putChange, removeChange } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import { SaveSign } from '../outbox/SaveSign.tsx';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useKept } from '../outbox/useSheetKeeper.ts';
import { indexOfMark, marksByPage } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { usePageList } from '../paper/page-list.ts';
import { PenTray } from '../pens/PenTray.tsx';
import { plural } from '../time/words.ts';
import { CopyFiles } from './CopyFiles.tsx';
import { FieldBar } from './FieldBar.tsx';
import { HandInDialog } from './HandInDialog.tsx';
import { Task } from './Task.tsx';
import { useAnswers, useUnanswered } from './useAnswers.ts';
import { useCopyKeeper } from './useCopyKeeper.ts';

/** Who comes: a student with work to do, on whatever is at hand. Reads, types, draws, adds; everything is kept; hands in when it is done. */
export function OpenCopy({ work, leave }: { work: Work; leave?: ReactNode }) {
  const { session } = useHere();
  const personId = session.person!.id;
  const keeper = useCopyKeeper(work.row.copyId, work.state);
  if (!keeper) return <Waiting what="your copy" />;
  return <Open work={work} keeper={keeper} personId={personId} leave={leave} />;
}

interface OpenProps {
  readonly work: Work;
  readonly keeper: SheetKeeper;
  readonly personId: PersonId;
  readonly leave: ReactNode;
}

const STUDENT_PENS = STUDENT_TRAY.map((pen, i) => ({ key: String(i + 1), pen }));

/** Below this width a field on the page is too small to type in. */
const PHONE = '(max-width: 639px)';

const all = (view: KeeperView) => view;

function Open({ work, keeper, personId, leave }: OpenProps) {
  const kept = useKept(keeper, all);
  const { copyId } = work.row;
  const sheets = useMemo(() => work.sheets.map((s) => s.document), [work.sheets]);
  const { pages, settled } = usePageList(sheets);
  const ready = settled && pages.length > 0;
  const questions = useMemo(() => work.sheets.flatMap((s) => s.questions), [work.sheets]);
  const numbers = useNumbers(work);
  const byPageQuestions = useMemo(
    () =>
      pages.map((p) => {
        const sheet = work.sheets.find((s) => s.document.id === p.document);
        return inPageOrder((sheet?.questions ?? []).filter((q) => q.page === p.page && takesWords(q)));
      }),
    [pages, work.sheets],
  );
  const typed = useMemo(() => byPageQuestions.flat(), [byPageQuestions]);

  const { pending, onType, onPaste, flush } = useAnswers(keeper, personId, copyId);
  const [taken, setTaken] = useState(0);
  const [pickedIds, setPickedIds] = useState<readonly MarkId[]>([]);
  const [dragged, setDragged] = useState<readonly Mark[] | null>(null);
  const [active, setActive] = useState<QuestionId | null>(null);
  const [handingIn, setHandingIn] = useState(false);
  const scroller = useRef<HTMLDivElement>(null);
  const liveCanvas = useRef<HTMLCanvasElement>(null);
  const { zoom, measured, zoomBy } = useZoom(scroller, pages, ready, 0);
  const phone = useMedia(PHONE);
  const withPages = work.sheets.length > 0;
  // Who has begun knows what to do: on a small screen the pages get the room.
  const [folded, setFolded] = useState(work.state.seq > 0 || phone);
  // A copy that is on its way stands as it was when it was handed in.
  const readOnly = kept.others.length > 0;
  const waits = readOnly && kept.save !== 'saving';

  const { sheet } = kept;
  const shown = useMemo(
    () => standingMarks(sheet).map((m) => dragged?.find((d) => d.id === m.id) ?? m),
    [sheet, dragged],
  );
  const last = useRef<(readonly Mark[])[]>([]);
  const byPage = useMemo(() => {
    last.current = marksByPage(shown, pages, last.current);
    return last.current;
  }, [shown, pages]);
  const picked = useMemo(() => shown.filter((m) => pickedIds.includes(m.id)), [shown, pickedIds]);
  const pen = readOnly ? STUDENT_TRAY[0]! : STUDENT_TRAY[taken]!;
  const host: PadHost = {
    pen: () => pen,
    page: (document, page) => {
      const p = pages[indexOfMark(pages, { document, page })];
      return p ? { document, page, view: viewOf(p.frame, p.turn, zoom), text: null } : null;
    },
    marksOn: (page) => byPage[indexOfMark(pages, page)] ?? [],
    newMarkId: () => newId<MarkId>(),
    now: () => Date.now(),
    picked: () => picked,
    make: (mark) => keeper.do([putChange(keeper, mark, null)]),
    rubOut: ({ gone, come }, sweep) => keeper.do(exchange(keeper, gone, come), `sweep:${sweep}`),
    drag: (marks) => !readOnly && setDragged(marks),
    move: (before, after) =>
      !readOnly && keeper.do(after.map((mark, i) => putChange(keeper, mark, before[i]!))),
    select: (marks) => setPickedIds(marks.map((m) => m.id)),
    cannot: () => {},
    zoomBy,
    fingerWrites: true,
  };
  const pad = usePad(scroller, liveCanvas, host, ready);

  const back = (how: 'undo' | 'redo') => {
    flush();
    pad.current?.giveUp();
    keeper[how]();
  };
  useCopyKeys({
    undo: () => !readOnly && back('undo'),
    redo: () => !readOnly && back('redo'),
    takePen: (i) => !readOnly && setTaken(i),
    remove: () => {
      if (!readOnly) keeper.do(picked.map((mark) => removeChange(keeper, mark)));
    },
    nudge: (dx, dy) => {
      const movable = picked.filter(isMovable);
      if (readOnly || movable.length === 0) return false;
      keeper.do(
        movable.map((mark) => putChange(keeper, moveMark(mark, dx, dy), mark)),
        `nudge:${pickedIds.join()}`,
      );
      return true;
    },
    letGo: () => {
      pad.current?.giveUp();
      setPickedIds([]);
    },
  });

  // --- handing in
  const drawnOn = useCallback(
    (q: Question) => {
      const document = work.sheets.find((s) => s.questions.includes(q))?.document.id;
      return shown.some((m) => m.document === document && m.page === q.page && overlaps(coverOf(m), q.box));
    },
    [shown, work.sheets],
  );
  const open = useUnanswered(questions, sheet, drawnOn);
  const handIn = async (cover: string) => {
    flush();
    // All that was written goes first; with no network both wait on this device, in this order.
    keeper.thenSend({ type: 'hand-in', id: newId<HandInId>(), cover, claimedAt: Date.now() });
    await settledOrAway(keeper);
    setHandingIn(false);
  };

  const pins = useWordsAtOnce(copyId);
  const answerAt = (id: QuestionId) => sheet.answers.get(id)?.value ?? '';
  const onFocus = useCallback((q: Question) => setActive(q.id), []);
  const activeAt = typed.findIndex((q) => q.id === active);
  const activeQuestion = typed[activeAt];
  const saving = pending && kept.save === 'saved' ? 'saving' : kept.save;
  return (
    <>
      <TopBar crumbs={[{ text: 'My work', to: '/' }, { text: work.row.assignment.title }]}>
        <SaveSign save={saving} waiting={kept.waiting} />
        {ready && (
          <span className="flex text-soft">
            <IconButton
              label="Undo"
              icon={Undo2}
              disabled={readOnly || !kept.canUndo}
              onClick={() => back('undo')}
            />
            <IconButton
              label="Redo"
              icon={Redo2}
              disabled={readOnly || !kept.canRedo}
              onClick={() => back('redo')}
            />
          </span>
        )}
        <button type="button" className="act" disabled={readOnly} onClick={() => setHandingIn(true)}>
          {work.handsIn ? 'Hand in' : 'I have done this'}
        </button>
      </TopBar>
      <main
        className={
          withPages
            ? 'flex min-h-0 flex-1 flex-col lg:flex-row'
            : 'mx-auto w-full max-w-2xl flex-1 overflow-y-auto p-5'
        }
      >
        <aside
          aria-label="What to do"
          className={`shrink-0 overflow-y-auto border-line bg-raised lg:max-h-none ${withPages ? 'max-h-[55%] border-b lg:w-[320px] lg:border-r lg:border-b-0' : 'rounded-lg shadow-sm'}`}
        >
          {withPages && (
            <button
              type="button"
              aria-expanded={!folded}
              className="flex min-h-11 w-full items-center gap-2 px-5 text-left font-bold lg:hidden"
              onClick={() => setFolded(!folded)}
            >
              {folded ? (
                <ChevronDown size={18} aria-hidden="true" />
              ) : (
                <ChevronUp size={18} aria-hidden="true" />
              )}
              What to do
              {work.files.length > 0 && (
                <span className="font-normal text-soft">, {plural(work.files.length, 'file', 'files')}</span>
              )}
            </button>
          )}
          <div className={`p-5 ${withPages && folded ? 'hidden lg:block' : ''}`}>
            {leave}
            {waits && <WaitingSign kept={kept.save === 'kept'} />}
            <Task work={work} />
            {work.handsIn && <CopyFiles work={work} readOnly={readOnly} />}
          </div>
        </aside>
        {withPages && (
          <div className="relative min-h-0 min-w-0 flex-1">
            <Clashes
              clashes={kept.clashes}
              sheet={sheet}
              questionName={(q) => `question ${numbers.get(q) ?? ''}`}
              onSettle={(clash, choice) => keeper.settle(clash, choice)}
            />
            {ready ? (
              <>
                <div
                  ref={scroller}
                  data-scroller
                  onPaste={(e) => onPaste(e.clipboardData.getData('text').length)}
                  tabIndex={-1}
                  role="region"
                  aria-label="Pages of your copy"
                  className={`absolute inset-0 touch-none overflow-auto px-3 pt-4 sm:px-5 ${active && phone ? 'pb-72' : 'pb-28'}`}
                >
                  {measured && (
                    <SheetStack
                      pages={pages}
                      zoom={zoom}
                      byPage={byPage}
                      picked={picked}
                      questions={byPageQuestions}
                      numbers={numbers}
                      readOnly={readOnly}
                      pins={pins}
                      answerAt={answerAt}
                      onType={onType}
                      onFocus={onFocus}
                    />
                  )}
                </div>
                <canvas ref={liveCanvas} className="pointer-events-none absolute top-0 left-0 size-full" />
                {!readOnly && !(phone && activeQuestion) && (
                  <div className="pointer-events-none absolute inset-x-0 bottom-3 flex justify-center [&>*]:pointer-events-auto">
                    <PenTray
                      pens={STUDENT_PENS}
                      taken={String(taken + 1)}
                      onTake={(key) => setTaken(Number(key) - 1)}
                    />
                  </div>
                )}
              </>
            ) : (
              <Waiting what="your pages" />
            )}
          </div>
        )}
      </main>
      {phone && activeQuestion && activeQuestion.answer.kind !== 'choice' && !readOnly && (
        <FieldBar
          key={activeQuestion.id}
          question={activeQuestion}
          number={numbers.get(activeQuestion.id) ?? ''}
          value={answerAt(activeQuestion.id)}
          first={activeAt === 0}
          last={activeAt === typed.length - 1}
          onType={onType}
          onMove={(by) => setActive(typed[activeAt + by]?.id ?? null)}
          onClose={() => setActive(null)}
        />
      )}
      <HandInDialog
        open={handingIn}
        work={work}
        unanswered={open.map((u) => ({ ...u, number: numbers.get(u.id) ?? '' }))}
        onGo={(id) => {
          setHandingIn(false);
          setActive(id);
          goTo(id);
        }}
        onCancel={() => setHandingIn(false)}
        onHandIn={handIn}
      />
    </>
  );
}

/** Numbers of all questions; with several worksheets each counts for itself. */
function useNumbers(work: Work): ReadonlyMap<QuestionId, string> {
  return useMemo(() => {
    const out = new Map<QuestionId, string>();
    for (const sheet of work.sheets)
      for (const [id, number] of numberQuestions(sheet.questions)) out.set(id, number);
    return out;
  }, [work.sheets]);
}

function goTo(id: QuestionId): void {
  requestAnimationFrame(() => {
    const field = document.querySelector<HTMLElement>(`[data-question="${id}"]`);
    field?.scrollIntoView({ block: 'center' });
    field?.focus();
  });
}

/** Waits until all is saved, or it is known that there is no network now. */
function settledOrAway(keeper: SheetKeeper): Promise<void> {
  return new Promise((resolve) => {
    let off = () => {};
    const look = () => {
      if (keeper.view.save === 'saving') return;
      off();
      resolve();
    };
    off = keeper.subscribe(look);
    look();
  });
}

/** A pin stays as long as the words may still be news. */
const PIN_MS = 2 * 3_600_000;

/**
 * The line to the teacher while the copy is open: being on it is being here. Words said at once are shown at once, and those about a
 * spot stay at it.
 */
function useWordsAtOnce(copyId: CopyId): Pin[] {
  const client = useQueryClient();
  const { data } = useQuery(conversationQuery(copyId));
  const fresh = () => tell(client, 'wordSaid', { copyId });
  useLive(
    addressOf('copyLive', { copyId }),
    (hint) => {
      if (hint.kind === 'word') fresh();
      else if (hint.kind === 'hand-in' || hint.kind === 'hand-back') tell(client, 'copyChanged', { copyId });
    },
    fresh,
  );
  const told = useRef(new Set<string>());
  const messages = data?.messages;
  useEffect(() => {
    for (const m of messages ?? []) {
      if (!m.unread || told.current.has(m.id)) continue;
      told.current.add(m.id);
      toast(`${m.by}: ${m.words}`, { duration: 12_000 });
    }
  }, [messages]);
  return useMemo(
    () =>
      (messages ?? []).flatMap((m) =>
        m.place && !m.mine && Date.now() - m.at < PIN_MS
          ? [{ id: m.id, place: m.place, words: m.words }]
          : [],
      ),
    [messages],
  );
}

function WaitingSign({ kept }: { kept: boolean }) {
  return (
    <p role="status" className="mb-4 rounded-lg border border-caution bg-paper p-3">
      <strong>Waits for the network.</strong>{' '}
      {kept
        ? 'Your copy is on this device as it stands and is handed in by itself as soon as there is a connection.'
        : 'This browser keeps nothing: leave this page open, and your copy is handed in by itself as soon as there is a connection.'}{' '}
      Your teacher sees when you pressed “Hand in”.
    </p>
  );
}

interface CopyKeys {
  undo(): void;
  redo(): void;
  takePen(index: number): void;
  remove(): void;
  nudge(dx: number, dy: number): boolean;
  letGo(): void;
}

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Undo is ours everywhere, in fields too: it also takes back what was typed before a reload. */
function useCopyKeys(keys: CopyKeys): void {
  const newest = useRef(keys);
  newest.current = keys;
  useEffect(() => {
    const heard = (e: KeyboardEvent) => {
      const k = newest.current;
      const target = e.target as HTMLElement;
      if (target.closest('[role="dialog"]') || e.isComposing) return;
      const typing = target.matches('input:not([type="radio"], [type="checkbox"]), textarea');
      const answer = target.matches('[data-question]');
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && (answer || !typing)) {
        e.preventDefault();
        if (e.shiftKey) k.redo();
        else k.undo();
        return;
      }
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      const pen = Number(e.key) - 1;
      const arrow = ARROWS[e.key];
      if (STUDENT_TRAY[pen]) k.takePen(pen);
      else if (e.key === 'Delete' || e.key === 'Backspace') k.remove();
      else if (e.key === 'Escape') k.letGo();
      else if (arrow && !answer && k.nudge(...arrow)) e.preventDefault();
    };
    window.addEventListener('keydown', heard);
    return () => window.removeEventListener('keydown', heard);
  }, []);
}

function useMedia(query: string): boolean {
  const [fits, setFits] = useState(() => matchMedia(query).matches);
  useEffect(() => {
    const media = matchMedia(query);
    const heard = () => setFits(media.matches);
    media.addEventListener('change', heard);
    return () => media.removeEventListener('change', heard);
  }, [query]);
  return fits;
}

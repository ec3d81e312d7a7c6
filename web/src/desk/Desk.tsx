import {
  bandsOver,
  type ChangeId,
  CopyId,
  changesBackTo,
  type Desk,
  type DocumentPages,
  formatPoints,
  isMarginMark,
  isMarkingPen,
  isWorded,
  type MarginMark,
  type Mark,
  type MarkId,
  PEN_KEYS,
  type Pen,
  type PersonId,
  type PileRow,
  quarterTurn,
  type Sheet,
  standingMarks,
  type Turns,
  textHeight,
  trayOut,
  type WordedMark,
  waits,
} from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronLeft, ChevronRight, Columns2, Redo2, Undo2 } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { IconButton } from '../frame/IconButton.tsx';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import type { KeeperView, SheetKeeper } from '../keep/sheet-keeper.ts';
import { newId } from '../keep/useSheetKeeper.ts';
import { MARGIN_FOLDED, MARGIN_WIDTH } from '../margin/MarginColumn.tsx';
import { MarkedPageStack } from '../margin/MarkedPageStack.tsx';
import { Enclosures } from '../paper/Enclosures.tsx';
import { indexOfMark, marksByPage } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { usePageList, usePageTexts } from '../paper/page-list.ts';
import { usePile } from '../pile/PileView.tsx';
import { useArranged, usePileView } from '../pile/usePileView.ts';
import { lateWords } from '../time/words.ts';
import { measureHand } from '../work/measure.ts';
import { deskQuery, prepareCopy, rememberRoom, useAhead } from './ahead.ts';
import { Beside } from './Beside.tsx';
import { markOnWords } from './by-keyboard.ts';
import { Clashes } from './Clashes.tsx';
import { exchange, putChange } from './changes.ts';
import { DeskTray } from './DeskTray.tsx';
import { DeskWords } from './DeskWords.tsx';
import { Elsewhere } from './Elsewhere.tsx';
import { FindBar } from './FindBar.tsx';
import { KeySheet } from './KeySheet.tsx';
import { LayOut } from './LayOut.tsx';
import { NotReady } from './NotReady.tsx';
import { OverPage } from './OverPage.tsx';
import { PageStrip } from './PageStrip.tsx';
import { PastBar } from './PastBar.tsx';
import { PileStrip } from './PileStrip.tsx';
import type { PadHost } from './pad.ts';
import { reveal } from './reveal.ts';
import { SaveSign } from './SaveSign.tsx';
import { ScoreSlip } from './ScoreSlip.tsx';
import { useDeskKeys } from './useDeskKeys.ts';
import { useDeskLayout } from './useDeskLayout.ts';
import { useDeskLine } from './useDeskLine.ts';
import { useDraft } from './useDraft.ts';
import { useFind } from './useFind.ts';
import { useKeeper } from './useKeeper.ts';
import { useLeftAt } from './useLeftAt.ts';
import { usePad } from './usePad.ts';
import { usePicked } from './usePicked.ts';
import { penOf, type TraysInHand, useTrays } from './useTrays.ts';
import { usePageInView, useZoom } from './useZoom.ts';
import { moveCursor, rangeOf, type WordCursor } from './word-cursor.ts';
import { ZOOM_STEP } from './zoom.ts';

/** Who comes: a tired teacher with a pen. Reads, writes, goes on; nothing to save, nothing to wait for, always in sight how far and whether it is kept. */
export function DeskRoute() {
  const parsed = CopyId.safeParse(useParams().copyId);
  const { session } = useHere();
  const desk = useQuery({
    ...deskQuery(parsed.data ?? ('' as CopyId)),
    enabled: parsed.success,
    refetchOnWindowFocus: false,
  });
  if (!parsed.success) return <Trouble error={new CallFailed('not-found')} />;
  return (
    <div className="flex h-full flex-col">
      {desk.error ? (
        <>
          <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Desk' }]} />
          <Trouble error={desk.error} again={() => desk.refetch()} />
        </>
      ) : desk.data ? (
        <OpenDesk key={desk.data.handIn.id} desk={desk.data} personId={session.person!.id} />
      ) : (
        <Waiting what="the copy" />
      )}
    </div>
  );
}

function OpenDesk({ desk, personId }: { desk: Desk; personId: PersonId }) {
  const open = useKeeper(desk, personId);
  const client = useQueryClient();
  // The bytes and the first picture are on their way while the keeper opens.
  useEffect(() => {
    prepareCopy(client, desk.copyId);
  }, [client, desk.copyId]);
  // What the server said on arrival is old once this desk has been worked on.
  useEffect(() => () => client.removeQueries({ queryKey: ['desk', desk.copyId] }), [client, desk.copyId]);
  return open ? <DeskView desk={desk} keeper={open.keeper} kept={open.view} /> : <Waiting what="the copy" />;
}

const NO_ROWS: PileRow[] = [];
const NO_MARKS: readonly Mark[] = [];
const NO_FOLDS: ReadonlySet<string> = new Set();
/** Where nothing can be written the pen reads. */
const READING: Pen = { tool: 'hand', name: 'read' };
/** In a box less wide the margin is only signs: the paper comes first. */
const WIDE_ENOUGH = 640;
const MARGINS: Readonly<Record<number, 'wide' | 'narrow' | 'none'>> = {
  0: 'none',
  [MARGIN_FOLDED]: 'narrow',
  [MARGIN_WIDTH]: 'wide',
};
const TRAY_SIDE = { left: 'justify-start', middle: 'justify-center', right: 'justify-end' } as const;

const toggled = (set: ReadonlySet<string>, id: string): ReadonlySet<string> =>
  set.has(id) ? new Set([...set].filter((other) => other !== id)) : new Set([...set, id]);

/** The mark with other words; words on the page are as high as they need. */
const withWords = <T extends WordedMark>(mark: T, words: string): T =>
  mark.kind === 'text'
    ? { ...mark, words, h: textHeight({ ...mark, words }, measureHand) }
    : { ...mark, words };

function DeskView({ desk, keeper, kept }: { desk: Desk; keeper: SheetKeeper; kept: KeeperView }) {
  const { clock } = useHere();
  const client = useQueryClient();
  const navigate = useNavigate();
  const readOnly = desk.handedBack;
  const stack = usePageList(desk.documents);
  const { pages } = stack;
  const texts = usePageTexts(pages);
  const pile = usePile(desk.assignment.id);
  const [pileView] = usePileView(desk.assignment.id);
  const arranged = useArranged(pile.data?.rows ?? NO_ROWS, pileView);
  // The copy in hand stays in the strip, though the filter would leave it out.
  const rows = useMemo(() => {
    const inPile = arranged.filter((r) => r.handInNumber > 0);
    if (inPile.some((r) => r.copyId === desk.copyId)) return inPile;
    return [...(pile.data?.rows ?? []).filter((r) => r.copyId === desk.copyId), ...inPile];
  }, [arranged, pile.data, desk.copyId]);

  const [past, setPast] = useState<'closed' | 'now' | Sheet>('closed');
  // While one looks back nothing is written: what is shown is as it stood.
  const sheet = typeof past === 'object' ? past : kept.sheet;
  const looksBack = past !== 'closed';
  const fixed = readOnly || looksBack;
  const [layout, lay] = useDeskLayout();
  const [dragged, setDragged] = useState<readonly Mark[] | null>(null);
  const [folds, setFolds] = useState<ReadonlySet<string>>(NO_FOLDS);
  const [keySheet, setKeySheet] = useState(false);
  const [twoSides, setTwoSides] = useState(false);
  const [cursor, setCursor] = useState<{ page: number; words: WordCursor } | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const liveCanvas = useRef<HTMLCanvasElement>(null);
  const gradeRef = useRef<HTMLInputElement>(null);
  const closingRef = useRef<HTMLTextAreaElement>(null);

  // Pages of several documents are shown when all are there: a stack that grows while one reads would jump.
  const ready = stack.settled && pages.length > 0;
  const marginIn = (width: number) =>
    layout.only === 'paper'
      ? 0
      : layout.margin === 'wide' && width >= WIDE_ENOUGH
        ? MARGIN_WIDTH
        : MARGIN_FOLDED;
  const { zoom, room, setWish, zoomBy, step, measured } = useZoom(scroller, pages, ready, marginIn);
  const pageNow = usePageInView(scroller, ready);

  // --- marks as they are shown: the sheet, with what is being typed or dragged in its place
  const putWords = useCallback(
    (noteId: MarkId, words: string) => {
      const now = keeper.view.sheet.marks.get(noteId)?.value;
      if (!now || !isWorded(now) || now.words === words) return;
      keeper.do([putChange(keeper, withWords(now, words), now)], `words:${noteId}`);
    },
    [keeper],
  );
  const written = useCallback(() => keeper.written(), [keeper]);
  const noteDraft = useDraft<MarkId>({ place: `jotmark.note.${desk.handIn.id}`, commit: putWords, written });
  const putClosing = useCallback(
    (_: 'closing', words: string) => keeper.write('closing', words, 'closing'),
    [keeper],
  );
  const closingDraft = useDraft<'closing'>({
    place: `jotmark.closing.${desk.handIn.id}`,
    commit: putClosing,
    written,
  });
  const typing = noteDraft.draft !== null || closingDraft.draft !== null;
  const shownMarks = useMemo(() => {
    const { draft } = noteDraft;
    return standingMarks(sheet).map((m) => {
      const moved = dragged?.find((d) => d.id === m.id);
      if (moved) return moved;
      return draft && m.id === draft.about && isWorded(m) ? withWords(m, draft.words) : m;
    });
  }, [sheet, noteDraft.draft, dragged]);
  const hold = usePicked({
    keeper,
    readOnly: fixed,
    shown: shownMarks,
    flush: noteDraft.flush,
  });
  const picked = hold.marks;
  const { letGo } = hold;
  const onlyPicked = picked.length === 1 ? picked[0]! : null;
  const inMargin = onlyPicked && isMarginMark(onlyPicked) ? onlyPicked.id : null;
  const beingWritten = hold.editing && onlyPicked?.kind === 'text' ? onlyPicked : null;
  // Words that are being written on the page are shown by their own field.
  const painted = useMemo(
    () => (beingWritten ? shownMarks.map((m) => (m === beingWritten ? { ...m, words: '' } : m)) : shownMarks),
    [shownMarks, beingWritten],
  );
  const lastByPage = useRef<(readonly Mark[])[]>([]);
  const byPage = useMemo(() => {
    lastByPage.current = marksByPage(painted, pages, lastByPage.current);
    return lastByPage.current;
  }, [painted, pages]);
  const hand = useTrays();
  const pen: Pen = fixed || !hand ? READING : hand.pen;
  const take = hand?.take;
  const takePen = useCallback(
    (key: string) => {
      take?.(key);
      setCursor(null);
    },
    [take],
  );
  const lendPen = (key: string) => {
    letGo();
    setCursor(null);
    hand?.lend(key);
  };
  // The tray is made anew only when a pen is taken or changed, not with every mark.
  const trayHand = useRef<TraysInHand | null>(null);
  if (trayHand.current?.trays !== hand?.trays || trayHand.current?.taken !== hand?.taken)
    trayHand.current = hand && { ...hand, take: takePen };
  useDeskLine(desk.handIn.id, keeper);

  const host: PadHost = {
    pen: () => pen,
    page: (document, page) => {
      const i = indexOfMark(pages, { document, page });
      const p = pages[i];
      return p ? { document, page, view: viewOf(p.frame, p.turn, zoom), text: texts[i] ?? null } : null;
    },
    marksOn: (page) => byPage[indexOfMark(pages, page)] ?? [],
    newMarkId: () => newId<MarkId>(),
    now: () => Date.now(),
    picked: () => picked,
    make: hold.make,
    rubOut: ({ gone, come }, sweep) => keeper.do(exchange(keeper, gone, come), `sweep:${sweep}`),
    drag: (marks) => !fixed && setDragged(marks),
    move: (before, after) => !fixed && keeper.do(after.map((mark, i) => putChange(keeper, mark, before[i]!))),
    select: (marks, how) => hold.pick(marks, how),
    cannot: (which) => void toast(`There are no words here for “${which.name}”.`),
    zoomBy,
  };
  const pad = usePad(scroller, liveCanvas, host, ready);
  useLeftAt(desk, scroller, ready && measured, pageNow, !readOnly && kept.save === 'saved');

  // --- moving through the pile
  const here = rows.findIndex((r) => r.copyId === desk.copyId);
  const beside = (by: number) => rows[here + by] ?? null;
  const nextWaiting =
    [...rows.slice(here + 1), ...rows.slice(0, Math.max(0, here))].find((r) => waits(r.place)) ?? null;
  const go = (row: PileRow | null) => {
    letGo();
    closingDraft.flush();
    if (row) navigate(`/desk/${row.copyId}`);
  };
  const setDone = (done: boolean, goOn: boolean) => {
    noteDraft.flush();
    closingDraft.flush();
    keeper.write('done', done);
    if (!goOn) return;
    if (nextWaiting) go(nextWaiting);
    else {
      toast.success('That was the last one: all copies that are in are marked.');
      navigate(`/piles/${desk.assignment.id}`);
    }
  };
  if (room) rememberRoom(room);
  useAhead(beside(1)?.copyId, ready);

  const turnPage = async () => {
    const here = pages[pageNow];
    if (!here) return;
    const id = here.document;
    const before = stack.turnsOf(id);
    const next = { ...before, [here.page]: quarterTurn(here.turn + 90) };
    const show = (turns: Turns) =>
      client.setQueryData(
        ['document', id, 'pages'],
        (old: DocumentPages | undefined) => old && { ...old, turns },
      );
    show(next);
    try {
      await call('turnPages', { params: { documentId: id }, body: { turns: next } });
    } catch (error) {
      show(before);
      toast.error(sentenceOf(error));
    }
  };
  const back = (how: 'undo' | 'redo') => {
    letGo();
    closingDraft.flush();
    pad.current?.giveUp();
    const touched = keeper[how]().at(-1);
    if (touched && 'mark' in touched) reveal(scroller.current, touched.mark, pages, zoom);
  };
  const toPage = (index: number) =>
    scroller.current
      ?.querySelector(`[data-index="${Math.min(pages.length - 1, Math.max(0, index))}"]`)
      ?.scrollIntoView({ block: 'start' });
  const slip = layout.only === null ? layout.slip : layout.only === 'slip';
  const foldSlip = () => lay(layout.only ? { only: null } : { slip: !layout.slip });
  const show = (mark: Mark) => {
    hold.pick([mark]);
    reveal(scroller.current, mark, pages, zoom);
  };
  const nextDocument = () => {
    const now = pages[pageNow]?.document;
    const firsts = pages.flatMap((p, i) => (i === 0 || pages[i - 1]!.document !== p.document ? [i] : []));
    if (firsts.length < 2) return void toast('There is one document in this hand-in.');
    const at = firsts.findIndex((i) => pages[i]!.document === now);
    toPage(firsts[(at + 1) % firsts.length]!);
  };

  // --- the word cursor: marking text without a pointer
  const walkWords = (key: string, extend: boolean) => {
    const page = cursor?.page ?? pageNow;
    const text = texts[page];
    const words = text ? moveCursor(text, cursor?.words ?? null, key, extend) : null;
    if (!words) return void toast('This page has no words to walk: it is a picture.');
    setCursor({ page, words });
    reveal(scroller.current, { index: page, area: text!.words[words.at]!.box }, pages, zoom);
  };
  const markWords = () => {
    const text = cursor && texts[cursor.page];
    const page = cursor && pages[cursor.page];
    if (!text || !page || !isMarkingPen(pen)) return void toast('Take a pen that leaves a mark first.');
    const at = {
      ...page,
      turn: viewOf(page.frame, page.turn, zoom).turn,
      text,
      range: rangeOf(cursor.words),
    };
    setCursor(null);
    hold.make(markOnWords(pen, at, newId<MarkId>(), Date.now()));
  };

  const finding = useFind(texts, (place) => reveal(scroller.current, place, pages, zoom));

  useDeskKeys({
    off: keySheet || looksBack,
    // A stroke that is being drawn goes on with the pen it was begun with.
    pens: hand && !readOnly ? { lend: lendPen, giveBack: hand.giveBack } : null,
    otherTray: () => {
      if (!hand) return;
      const { trays } = hand;
      hand.keep({ ...trays, out: (trays.out + 1) % trays.trays.length });
    },
    changePen: (key) => {
      const other = hand && penOf(hand.trays, key);
      return other !== null && hold.changePen(other);
    },
    undo: () => !readOnly && back('undo'),
    redo: () => !readOnly && back('redo'),
    next: () => go(beside(1)),
    before: () => go(beside(-1)),
    done: () => !readOnly && setDone(true, true),
    remove: () => !readOnly && hold.takeAway(picked),
    nudge: hold.nudge,
    grow: hold.grow,
    copy: hold.copy,
    putDown: () => hold.putDown(pages[pageNow]),
    double: hold.double,
    all: () => hold.pick(byPage[pageNow] ?? []),
    walkMarks: (by) => {
      const mark = hold.walk(by);
      if (mark) reveal(scroller.current, mark, pages, zoom);
    },
    letGo: () => {
      pad.current?.giveUp();
      setCursor(null);
      letGo();
    },
    edit: hold.edit,
    grade: () => gradeRef.current?.focus(),
    closing: () => closingRef.current?.focus(),
    larger: () => step(ZOOM_STEP),
    smaller: () => step(1 / ZOOM_STEP),
    fit: setWish,
    turn: () => !readOnly && turnPage(),
    slip: foldSlip,
    strip: () => lay({ strip: !layout.strip }),
    pageStrip: () => lay({ pages: !layout.pages }),
    margin: () => lay({ margin: layout.margin === 'wide' ? 'narrow' : 'wide' }),
    nextDocument,
    find: finding.begin,
    beside: () => setTwoSides(!twoSides),
    page: (by) => toPage(pageNow + by),
    walking: cursor !== null,
    walk: walkWords,
    markWords,
    help: () => setKeySheet(true),
  });

  const crumbs = [
    { text: 'Today', to: '/' },
    { text: desk.assignment.title, to: `/piles/${desk.assignment.id}` },
    { text: `${desk.student.given} ${desk.student.family}` },
  ];
  const { claimedAt } = desk.handIn;
  const about = [
    `hand-in ${desk.handIn.number}`,
    lateWords(desk.handIn.late) ?? 'on time',
    claimedAt !== null && `without a network; by the device ${clock.moment(claimedAt, Date.now())}`,
  ]
    .filter(Boolean)
    .join(' · ');
  return (
    <>
      <TopBar crumbs={crumbs}>
        <SaveSign save={typing && kept.save === 'saved' ? 'saving' : kept.save} waiting={kept.waiting} />
        <span className="flex items-center text-soft">
          <IconButton
            label="Undo"
            disabled={fixed || !kept.canUndo}
            onClick={() => back('undo')}
            icon={Undo2}
          />
          <IconButton
            label="Redo"
            disabled={fixed || !kept.canRedo}
            onClick={() => back('redo')}
            icon={Redo2}
          />
        </span>
        {ready && (
          <span className="text-sm whitespace-nowrap text-soft tabular">
            page {pageNow + 1} of {pages.length} · {Math.round(zoom * 100)} %
          </span>
        )}
        <span className="flex items-center text-soft">
          <IconButton
            label="Copy before"
            disabled={!beside(-1)}
            onClick={() => go(beside(-1))}
            icon={ChevronLeft}
          />
          <IconButton
            label="Next copy"
            disabled={!beside(1)}
            onClick={() => go(beside(1))}
            icon={ChevronRight}
          />
          <IconButton
            label={twoSides ? 'Put away what lies beside' : 'Lay something beside it'}
            onClick={() => setTwoSides(!twoSides)}
            icon={Columns2}
          />
          <LayOut layout={layout} lay={lay} />
        </span>
        <button
          type="button"
          className="key !text-sm"
          aria-label="Keys at the desk"
          onClick={() => setKeySheet(true)}
        >
          ?
        </button>
      </TopBar>
      <div className="flex min-h-0 flex-1">
        {layout.strip && layout.only === null && <PileStrip rows={rows} here={desk.copyId} />}
        {layout.pages && layout.only === null && ready && (
          <PageStrip pages={pages} byPage={byPage} now={pageNow} onGo={toPage} />
        )}
        <main
          className={`relative min-w-0 flex-1 ${layout.dark ? 'bg-dark-table' : ''} ${layout.only === 'slip' ? 'hidden' : ''}`}
        >
          {looksBack && (
            <PastBar
              handInId={desk.handIn.id}
              onShow={(shown) => setPast(shown ?? 'now')}
              onGoBack={(then) => {
                setPast('closed');
                keeper.do(changesBackTo(keeper.view.sheet, then, () => newId<ChangeId>()));
              }}
              onClose={() => setPast('closed')}
            />
          )}
          <Clashes
            clashes={kept.clashes}
            sheet={kept.sheet}
            onSettle={(clash, choice) => keeper.settle(clash, choice)}
          />
          {ready ? (
            <>
              <div
                ref={scroller}
                data-scroller
                tabIndex={0}
                role="region"
                aria-label="Pages of the copy"
                className="absolute inset-0 isolate touch-none overflow-auto px-5 pt-4 pb-28 select-none"
              >
                <Enclosures documents={desk.documents} />
                {measured && (
                  <MarkedPageStack
                    pages={pages}
                    zoom={zoom}
                    byPage={byPage}
                    picked={picked}
                    wordsOn={(i) =>
                      cursor?.page === i && texts[i]
                        ? bandsOver(texts[i], rangeOf(cursor.words))
                        : finding.onPage(i).here
                    }
                    foundOn={(i) => finding.onPage(i).others}
                    active={inMargin}
                    side={layout.side}
                    margin={MARGINS[marginIn(room?.[0] ?? 0)]!}
                    folds={folds}
                    onActivate={(note, edit) => (note ? hold.pick([note], { edit }) : letGo())}
                    over={(i, view) => (
                      <OverPage
                        page={pages[i]!}
                        view={view}
                        written={beingWritten}
                        picked={fixed || hold.editing ? NO_MARKS : picked}
                        onWords={(mark, said) => noteDraft.type(mark.id, said)}
                        onLeave={letGo}
                        pens={
                          hand ? trayOut(hand.trays).pens.map((p, n) => ({ key: PEN_KEYS[n]!, pen: p })) : []
                        }
                        onDrag={host.drag}
                        onResize={host.move}
                        onPen={hold.changePen}
                        onCopy={hold.copy}
                        onDouble={hold.double}
                        onRemove={() => hold.takeAway(picked)}
                      />
                    )}
                    {...(fixed
                      ? {}
                      : {
                          writing: {
                            editing: hold.editing,
                            onWords: (note: MarginMark, words: string) => noteDraft.type(note.id, words),
                            onRemove: (note: MarginMark) => hold.takeAway([note]),
                            onFold: (note: MarginMark) => {
                              letGo();
                              setFolds((before) => toggled(before, note.id));
                            },
                          },
                        })}
                  />
                )}
              </div>
              {finding.words !== null && (
                <FindBar
                  words={finding.words}
                  at={finding.at}
                  found={finding.found}
                  onWords={finding.write}
                  onMove={finding.move}
                  onClose={() => {
                    finding.end();
                    scroller.current?.focus({ preventScroll: true });
                  }}
                />
              )}
              <canvas ref={liveCanvas} className="pointer-events-none absolute top-0 left-0 size-full" />
              {!fixed && hand && trayHand.current && (
                <div
                  className={`@container pointer-events-none absolute inset-x-3 bottom-3 flex [&>*]:pointer-events-auto ${TRAY_SIDE[hand.trays.side]}`}
                >
                  <DeskTray hand={trayHand.current} />
                </div>
              )}
            </>
          ) : (
            <NotReady stack={stack} documents={desk.documents} />
          )}
        </main>
        {twoSides && layout.only !== 'slip' && (
          <Beside copyId={desk.copyId} documents={desk.documents} onClose={() => setTwoSides(false)} />
        )}
        {slip && (
          <ScoreSlip
            assignment={desk.assignment}
            about={about}
            sheet={
              closingDraft.draft
                ? {
                    ...sheet,
                    slip: {
                      ...sheet.slip,
                      closing: { ...sheet.slip.closing, value: closingDraft.draft.words },
                    },
                  }
                : sheet
            }
            marks={shownMarks}
            readOnly={readOnly}
            looksBack={looksBack}
            last={beside(1) === null}
            selected={picked}
            wide={layout.only === 'slip'}
            gradeRef={gradeRef}
            closingRef={closingRef}
            onGrade={(value) => keeper.write('grade', value, 'grade')}
            onClosing={(words) => closingDraft.type('closing', words)}
            onDone={setDone}
            onNext={() => go(beside(1))}
            onPick={show}
          >
            <DeskWords desk={desk} />
            <Elsewhere handInId={desk.handIn.id} keeper={keeper} readOnly={fixed} />
            {!readOnly && (
              <p className="mt-3 border-t border-line pt-3 text-sm">
                <button
                  type="button"
                  className="text-left text-action hover:underline"
                  disabled={kept.save !== 'saved'}
                  onClick={() => {
                    letGo();
                    closingDraft.flush();
                    setPast(looksBack ? 'closed' : 'now');
                  }}
                >
                  How the marking stood before
                </button>
              </p>
            )}
            <p className="mt-3 border-t border-line pt-3 text-sm">
              <Link to={`/copies/${desk.copyId}/trail`} className="text-action hover:underline">
                How this copy came to be
              </Link>
            </p>
          </ScoreSlip>
        )}
      </div>
      <p className="sr-only" role="status">
        {sheet.slip.grade.value !== null && `Grade ${formatPoints(sheet.slip.grade.value)}`} handed in{' '}
        {clock.moment(desk.handIn.handedInAt, Date.now())}
      </p>
      <KeySheet open={keySheet} onClose={() => setKeySheet(false)} />
    </>
  );
}

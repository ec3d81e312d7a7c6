import {
  type ChangeId,
  changesBackTo,
  type Desk,
  formatPoints,
  isMarginMark,
  isWorded,
  type MarginMark,
  type Mark,
  type MarkId,
  PEN_KEYS,
  type Pen,
  type PileRow,
  type Sheet,
  trayOut,
} from '@jotmark/core';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { rememberRoom, useAhead } from '../ahead/ahead.ts';
import { Beside } from '../beside/Beside.tsx';
import { FindBar } from '../beside/FindBar.tsx';
import { PastBar } from '../beside/PastBar.tsx';
import { useFind } from '../beside/useFind.ts';
import { useHere } from '../frame/session.tsx';
import { useStable } from '../frame/useStable.ts';
import type { PadHost } from '../hand/pad.ts';
import { reveal } from '../hand/reveal.ts';
import { keepStroke, takeStroke } from '../hand/stroke-in-hand.ts';
import { usePad } from '../hand/usePad.ts';
import { useWordWalk } from '../hand/useWordWalk.ts';
import { usePageInView, useZoom } from '../hand/useZoom.ts';
import { ZOOM_STEP } from '../hand/zoom.ts';
import { useDeskLayout } from '../layout/useDeskLayout.ts';
import { MARGIN_FOLDED } from '../margin/MarginColumn.tsx';
import { MarkedPageStack } from '../margin/MarkedPageStack.tsx';
import { Clashes } from '../marks/Clashes.tsx';
import { exchange, putChange } from '../outbox/changes.ts';
import { newId } from '../outbox/new-id.ts';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useDraft } from '../outbox/useDraft.ts';
import { useKept } from '../outbox/useSheetKeeper.ts';
import { Enclosures } from '../paper/Enclosures.tsx';
import { indexOfMark } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { usePageList, usePageTexts } from '../paper/page-list.ts';
import { DeskTray } from '../pens/DeskTray.tsx';
import { penOf, type TraysInHand, useTrays } from '../pens/useTrays.ts';
import { OverPage } from '../picked/OverPage.tsx';
import { usePicked } from '../picked/usePicked.ts';
import { usePaintedPages, useShownMarks, withWords } from '../picked/useShownMarks.ts';
import { ScoreSlip } from '../slip/ScoreSlip.tsx';
import { SlipFoot } from '../slip/SlipFoot.tsx';
import { lateWords } from '../time/words.ts';
import { DeskBar } from './DeskBar.tsx';
import { KeySheet } from './KeySheet.tsx';
import { NotReady } from './NotReady.tsx';
import { PageStrip } from './PageStrip.tsx';
import { PileStrip } from './PileStrip.tsx';
import { useDeskKeys } from './useDeskKeys.ts';
import { useDeskLine } from './useDeskLine.ts';
import { useLeftAt } from './useLeftAt.ts';
import { usePilePlace } from './usePilePlace.ts';
import { useTurnPage } from './useTurnPage.ts';

const NO_MARKS: readonly Mark[] = [];
const NO_FOLDS: ReadonlySet<string> = new Set();
/** Where nothing can be written the pen reads. */
const READING: Pen = { tool: 'hand', name: 'read' };
/** In a box less wide the margin is only signs: the paper comes first. */
const WIDE_ENOUGH = 640;
const TRAY_SIDE = { left: 'justify-start', middle: 'justify-center', right: 'justify-end' } as const;

const toggled = (set: ReadonlySet<string>, id: string): ReadonlySet<string> =>
  set.has(id) ? new Set([...set].filter((other) => other !== id)) : new Set([...set, id]);

const sheetOf = (view: KeeperView) => view.sheet;
const clashesOf = (view: KeeperView) => view.clashes;

/** One copy on the desk: what lies where, and which hand moves what. */
export function DeskView({ desk, keeper }: { desk: Desk; keeper: SheetKeeper }) {
  const { clock, session } = useHere();
  const me = session.person!.id;
  const navigate = useNavigate();
  const readOnly = desk.handedBack;
  const stack = usePageList(desk.documents);
  const { pages } = stack;
  const texts = usePageTexts(pages);
  const place = usePilePlace(desk);
  const standing = useKept(keeper, sheetOf);
  const clashes = useKept(keeper, clashesOf);

  const [past, setPast] = useState<'closed' | 'now' | Sheet>('closed');
  // While one looks back nothing is written: what is shown is as it stood.
  const sheet = typeof past === 'object' ? past : standing;
  const looksBack = past !== 'closed';
  const fixed = readOnly || looksBack;
  const [layout, lay] = useDeskLayout();
  const [dragged, setDragged] = useState<readonly Mark[] | null>(null);
  const [folds, setFolds] = useState<ReadonlySet<string>>(NO_FOLDS);
  const [keySheet, setKeySheet] = useState(false);
  const [twoSides, setTwoSides] = useState(false);
  const scroller = useRef<HTMLDivElement>(null);
  const liveCanvas = useRef<HTMLCanvasElement>(null);
  const gradeRef = useRef<HTMLInputElement>(null);
  const closingRef = useRef<HTMLTextAreaElement>(null);

  // Pages of several documents are shown when all are there: a stack that grows while one reads would jump.
  const ready = stack.settled && pages.length > 0;
  const marginAt = (width: number) =>
    layout.only === 'paper' ? 'none' : layout.margin === 'wide' && width >= WIDE_ENOUGH ? 'wide' : 'narrow';
  const margins = { none: 0, narrow: MARGIN_FOLDED, wide: layout.sizes.margin };
  const { zoom, room, setWish, zoomBy, step, measured } = useZoom(
    scroller,
    pages,
    ready,
    (width) => margins[marginAt(width)],
  );
  const margin = marginAt(room?.[0] ?? 0);
  const pageNow = usePageInView(scroller, ready);
  const bring = (what: Parameters<typeof reveal>[1]) => reveal(scroller.current, what, pages, zoom);

  // --- words while they are typed
  const putWords = useCallback(
    (noteId: MarkId, words: string) => {
      const now = keeper.view.sheet.marks.get(noteId)?.value;
      if (!now || !isWorded(now) || now.words === words) return;
      keeper.do([putChange(keeper, withWords(now, words), now)], `words:${noteId}`);
    },
    [keeper],
  );
  const written = useCallback(() => keeper.written(), [keeper]);
  const noteDraft = useDraft<MarkId>({
    place: `jotmark.note.${me}.${desk.handIn.id}`,
    commit: putWords,
    written,
  });
  const putClosing = useCallback(
    (_: 'closing', words: string) => keeper.write('closing', words, 'closing'),
    [keeper],
  );
  const closingDraft = useDraft<'closing'>({
    place: `jotmark.closing.${me}.${desk.handIn.id}`,
    commit: putClosing,
    written,
  });
  const typing = noteDraft.draft !== null || closingDraft.draft !== null;

  // --- marks as they are shown, and what of them is picked
  const shown = useShownMarks(sheet, noteDraft.draft, dragged);
  const hold = usePicked({ keeper, readOnly: fixed, shown, flush: noteDraft.flush });
  const picked = hold.marks;
  const { letGo } = hold;
  const onlyPicked = picked.length === 1 ? picked[0]! : null;
  const inMargin = onlyPicked && isMarginMark(onlyPicked) ? onlyPicked.id : null;
  const beingWritten = hold.editing && onlyPicked?.kind === 'text' ? onlyPicked : null;
  const byPage = usePaintedPages(shown, pages, beingWritten);

  // --- pens
  const hand = useTrays();
  const pen: Pen = fixed || !hand ? READING : hand.pen;
  const cursor = useWordWalk({ pages, texts, pageNow, zoom, scroller });
  const lendPen = (key: string) => {
    letGo();
    cursor.putAway();
    hand?.lend(key);
  };
  const pensAtKeys = useMemo(
    () => (hand ? trayOut(hand.trays).pens.map((p, n) => ({ key: PEN_KEYS[n]!, pen: p })) : []),
    [hand?.trays],
  );
  useDeskLine(desk.handIn.id, keeper);

  const host: PadHost = {
    pen: () => pen,
    page: (document, page) => {
      const i = indexOfMark(pages, { document, page });
      const p = pages[i];
      return p ? { document, page, view: viewOf(p.frame, p.turn, zoom), text: texts[i] ?? null } : null;
    },
    marksOn: (page) => byPage[indexOfMark(pages, page)] ?? NO_MARKS,
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
    keepSafe: (mark) => keepStroke(me, desk.handIn.id, mark),
  };
  useEffect(
    () =>
      takeStroke(me, desk.handIn.id, (mark) => {
        if (!readOnly && !keeper.view.sheet.marks.has(mark.id)) keeper.do([putChange(keeper, mark, null)]);
      }),
    [me, desk.handIn.id, keeper, readOnly],
  );
  const pad = usePad(scroller, liveCanvas, host, ready);
  useLeftAt(desk, keeper, scroller, ready && measured, pageNow);

  // --- moving through the pile
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
    if (place.nextWaiting) return go(place.nextWaiting);
    toast.success('That was the last one: all copies that are in are marked.');
    navigate(`/piles/${desk.assignment.id}`);
  };
  if (room) rememberRoom(room, margins[margin]);
  useAhead(place.next?.copyId, ready);

  // --- moving over the paper
  const turnPage = useTurnPage(stack.turnsOf);
  const back = (how: 'undo' | 'redo') => {
    letGo();
    closingDraft.flush();
    pad.current?.giveUp();
    const touched = keeper[how]().at(-1);
    if (touched && 'mark' in touched) bring(touched.mark);
  };
  const toPage = (index: number) =>
    scroller.current
      ?.querySelector(`[data-index="${Math.min(pages.length - 1, Math.max(0, index))}"]`)
      ?.scrollIntoView({ block: 'start' });
  const nextDocument = () => {
    const now = pages[pageNow]?.document;
    const firsts = pages.flatMap((p, i) => (i === 0 || pages[i - 1]!.document !== p.document ? [i] : []));
    if (firsts.length < 2) return void toast('There is one document in this hand-in.');
    const at = firsts.findIndex((i) => pages[i]!.document === now);
    toPage(firsts[(at + 1) % firsts.length]!);
  };
  const finding = useFind(texts, bring);
  const slip = layout.only === null ? layout.slip : layout.only === 'slip';

  const does = useStable({
    onUndo: () => back('undo'),
    onRedo: () => back('redo'),
    onBefore: () => go(place.before),
    onNext: () => go(place.next),
    onBeside: () => setTwoSides(!twoSides),
    onKeys: () => setKeySheet(true),
    onPage: toPage,
    onGrade: (value: number | null) => keeper.write('grade', value, 'grade'),
    onClosing: (words: string) => closingDraft.type('closing', words),
    onDone: setDone,
    onPick: (mark: Mark) => {
      hold.pick([mark]);
      bring(mark);
    },
    onActivate: (note: MarginMark | null, edit: boolean) => (note ? hold.pick([note], { edit }) : letGo()),
    onLookBack: () => {
      letGo();
      closingDraft.flush();
      setPast(looksBack ? 'closed' : 'now');
    },
    take: (key: string) => {
      hand?.take(key);
      cursor.putAway();
    },
  });
  const pulled = (part: keyof typeof layout.sizes) => (to: number) =>
    lay({ sizes: { ...layout.sizes, [part]: to } });
  const sizes = useStable({
    slip: pulled('slip'),
    strip: pulled('strip'),
    margin: pulled('margin'),
    beside: pulled('beside'),
  });
  const writing = useStable({
    onWords: (note: MarginMark, words: string) => noteDraft.type(note.id, words),
    onRemove: (note: MarginMark) => hold.takeAway([note]),
    onFold: (note: MarginMark) => {
      letGo();
      setFolds((before) => toggled(before, note.id));
    },
  });
  // The tray is made anew only when a pen is taken or changed, not with every mark.
  const trayHand = useMemo(
    (): TraysInHand | null => hand && { ...hand, take: does.take },
    [hand?.trays, hand?.taken, does],
  );

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
    next: () => go(place.next),
    before: () => go(place.before),
    done: () => !readOnly && setDone(true, true),
    remove: () => !readOnly && hold.takeAway(picked),
    nudge: hold.nudge,
    grow: hold.grow,
    copy: hold.copy,
    putDown: () => hold.putDown(pages[pageNow]),
    double: hold.double,
    all: () => hold.pick(byPage[pageNow] ?? NO_MARKS),
    walkMarks: (by) => {
      const mark = hold.walk(by);
      if (mark) bring(mark);
    },
    letGo: () => {
      pad.current?.giveUp();
      cursor.putAway();
      letGo();
    },
    edit: hold.edit,
    grade: () => gradeRef.current?.focus(),
    closing: () => closingRef.current?.focus(),
    larger: () => step(ZOOM_STEP),
    smaller: () => step(1 / ZOOM_STEP),
    fit: setWish,
    turn: () => !readOnly && turnPage(pages[pageNow]),
    slip: () => lay(layout.only ? { only: null } : { slip: !layout.slip }),
    strip: () => lay({ strip: !layout.strip }),
    pageStrip: () => lay({ pages: !layout.pages }),
    margin: () => lay({ margin: layout.margin === 'wide' ? 'narrow' : 'wide' }),
    nextDocument,
    find: finding.begin,
    beside: does.onBeside,
    page: (by) => toPage(pageNow + by),
    walking: cursor.walking,
    walk: cursor.walk,
    markWords: () => {
      const mark = cursor.mark(pen);
      if (mark) hold.make(mark);
    },
    help: does.onKeys,
  });

  const crumbs = useMemo(
    () => [
      { text: 'Today', to: '/' },
      { text: desk.assignment.title, to: `/piles/${desk.assignment.id}` },
      { text: `${desk.student.given} ${desk.student.family}` },
    ],
    [desk],
  );
  const { claimedAt } = desk.handIn;
  const about = [
    `hand-in ${desk.handIn.number}`,
    lateWords(desk.handIn.late) ?? 'on time',
    claimedAt !== null && `without a network; by the device ${clock.moment(claimedAt, Date.now())}`,
  ]
    .filter(Boolean)
    .join(' · ');
  const closing = closingDraft.draft?.words ?? null;
  const slipNow = useMemo(
    () =>
      closing === null ? sheet.slip : { ...sheet.slip, closing: { ...sheet.slip.closing, value: closing } },
    [sheet.slip, closing],
  );
  const slipFoot = useMemo(
    () => (
      <SlipFoot
        desk={desk}
        keeper={keeper}
        readOnly={readOnly}
        looksBack={looksBack}
        onLookBack={does.onLookBack}
      />
    ),
    [desk, keeper, readOnly, looksBack, does],
  );
  return (
    <>
      <DeskBar
        crumbs={crumbs}
        keeper={keeper}
        typing={typing}
        fixed={fixed}
        where={ready ? `page ${pageNow + 1} of ${pages.length} · ${Math.round(zoom * 100)} %` : ''}
        first={!place.before}
        last={!place.next}
        twoSides={twoSides}
        layout={layout}
        lay={lay}
        onUndo={does.onUndo}
        onRedo={does.onRedo}
        onBefore={does.onBefore}
        onNext={does.onNext}
        onBeside={does.onBeside}
        onKeys={does.onKeys}
      />
      <div className="flex min-h-0 flex-1">
        {layout.strip && layout.only === null && (
          <PileStrip rows={place.rows} here={desk.copyId} width={layout.sizes.strip} onWidth={sizes.strip} />
        )}
        {layout.pages && layout.only === null && ready && (
          <PageStrip pages={pages} byPage={byPage} now={pageNow} onGo={does.onPage} />
        )}
        <main
          className={`relative min-w-0 ${layout.dark ? 'bg-dark-table' : ''} ${layout.only === 'slip' ? 'hidden' : ''}`}
          style={{ flex: `${100 - layout.sizes.beside} 1 0` }}
        >
          {looksBack && (
            <PastBar
              handInId={desk.handIn.id}
              onShow={(then) => setPast(then ?? 'now')}
              onGoBack={(then) => {
                setPast('closed');
                keeper.do(changesBackTo(keeper.view.sheet, then, () => newId<ChangeId>()));
              }}
              onClose={() => setPast('closed')}
            />
          )}
          <Clashes
            clashes={clashes}
            sheet={standing}
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
                    wordsOn={(i) => cursor.boxesOn(i) ?? finding.onPage(i).here}
                    foundOn={(i) => finding.onPage(i).others}
                    active={inMargin}
                    side={layout.side}
                    margin={margin}
                    marginWidth={layout.sizes.margin}
                    onMarginWidth={sizes.margin}
                    folds={folds}
                    editing={hold.editing}
                    writing={fixed ? null : writing}
                    onActivate={does.onActivate}
                    over={(page, view) => {
                      const here = fixed || hold.editing ? NO_MARKS : picked;
                      return (
                        (here.length > 0 || beingWritten) && (
                          <OverPage
                            page={page}
                            view={view}
                            written={beingWritten}
                            picked={here}
                            onWords={(mark, said) => noteDraft.type(mark.id, said)}
                            onLeave={letGo}
                            pens={pensAtKeys}
                            onDrag={host.drag}
                            onResize={host.move}
                            onPen={hold.changePen}
                            onCopy={hold.copy}
                            onDouble={hold.double}
                            onRemove={() => hold.takeAway(picked)}
                          />
                        )
                      );
                    }}
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
              {!fixed && hand && trayHand && (
                <div
                  className={`@container pointer-events-none absolute inset-x-3 bottom-3 flex [&>*]:pointer-events-auto ${TRAY_SIDE[hand.trays.side]}`}
                >
                  <DeskTray hand={trayHand} />
                </div>
              )}
            </>
          ) : (
            <NotReady stack={stack} documents={desk.documents} />
          )}
        </main>
        {twoSides && layout.only !== 'slip' && (
          <Beside
            copyId={desk.copyId}
            documents={desk.documents}
            share={layout.sizes.beside}
            onShare={sizes.beside}
            onClose={does.onBeside}
          />
        )}
        {slip && (
          <ScoreSlip
            assignment={desk.assignment}
            about={about}
            slip={slipNow}
            marks={shown}
            readOnly={readOnly}
            looksBack={looksBack}
            last={!place.next}
            selected={picked}
            width={layout.only === 'slip' ? null : layout.sizes.slip}
            onWidth={sizes.slip}
            gradeRef={gradeRef}
            closingRef={closingRef}
            onGrade={does.onGrade}
            onClosing={does.onClosing}
            onDone={does.onDone}
            onNext={does.onNext}
            onPick={does.onPick}
          >
            {slipFoot}
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

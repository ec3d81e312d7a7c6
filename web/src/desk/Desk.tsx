import {
  type Box,
  bandsOver,
  type Change,
  type ChangeId,
  CopyId,
  coverOf,
  type Desk,
  type DocumentPages,
  type DocumentState,
  formatPoints,
  isMovable,
  type Mark,
  type MarkId,
  moveMark,
  type NoteMark,
  overlaps,
  type PersonId,
  type PileRow,
  pageSize,
  quarterTurn,
  quoteOf,
  STARTER_TRAY,
  standingMarks,
  type Turns,
  versionOf,
  waits,
} from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronLeft, ChevronRight, PanelRightClose, PanelRightOpen, Redo2, Undo2 } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { Conversation, useUnread } from '../conversation/Conversation.tsx';
import { IconButton } from '../frame/IconButton.tsx';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import type { KeeperView, SheetKeeper } from '../keep/sheet-keeper.ts';
import { newId } from '../keep/useSheetKeeper.ts';
import { MarkedPageStack } from '../margin/MarkedPageStack.tsx';
import { Enclosures, originalOf } from '../paper/Enclosures.tsx';
import { indexOfMark, marksByPage } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { type ShownPage, usePageList, usePageTexts } from '../paper/page-list.ts';
import { usePile } from '../pile/PileView.tsx';
import { useArranged, usePileView } from '../pile/usePileView.ts';
import { lateWords } from '../time/words.ts';
import { deskQuery, prepareCopy, rememberRoom, useAhead } from './ahead.ts';
import { Clashes } from './Clashes.tsx';
import { KeySheet } from './KeySheet.tsx';
import { PenTray } from './PenTray.tsx';
import { PileStrip } from './PileStrip.tsx';
import type { PadHost } from './pad.ts';
import { SaveSign } from './SaveSign.tsx';
import { ScoreSlip } from './ScoreSlip.tsx';
import { useDeskKeys } from './useDeskKeys.ts';
import { useDraft } from './useDraft.ts';
import { useKeeper } from './useKeeper.ts';
import { useLeftAt } from './useLeftAt.ts';
import { usePad } from './usePad.ts';
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
const KEPT_HERE = { pen: 'jotmark.pen', slip: 'jotmark.slip' } as const;

function DeskView({ desk, keeper, kept }: { desk: Desk; keeper: SheetKeeper; kept: KeeperView }) {
  const { clock } = useHere();
  const client = useQueryClient();
  const navigate = useNavigate();
  const readOnly = desk.handedBack;
  const { sheet } = kept;
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

  const [taken, setTaken] = useState(() =>
    Math.min(STARTER_TRAY.length - 1, Number(sessionStorage.getItem(KEPT_HERE.pen) ?? 0)),
  );
  const [pickedId, setPickedId] = useState<MarkId | null>(null);
  const [editing, setEditing] = useState(false);
  const [dragged, setDragged] = useState<Mark | null>(null);
  const [slip, setSlip] = useState(() => localStorage.getItem(KEPT_HERE.slip) !== 'folded');
  const [keySheet, setKeySheet] = useState(false);
  const [cursor, setCursor] = useState<{ page: number; words: WordCursor } | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const liveCanvas = useRef<HTMLCanvasElement>(null);
  const gradeRef = useRef<HTMLInputElement>(null);
  const closingRef = useRef<HTMLTextAreaElement>(null);

  // Pages of several documents are shown when all are there: a stack that grows while one reads would jump.
  const ready = stack.settled && pages.length > 0;
  const { zoom, room, setWish, zoomBy, step, measured } = useZoom(scroller, pages, ready);
  const pageNow = usePageInView(scroller, ready);

  // --- marks as they are shown: the sheet, with what is being typed or dragged in its place
  const putWords = useCallback(
    (noteId: MarkId, words: string) => {
      const now = keeper.view.sheet.marks.get(noteId)?.value;
      if (now?.kind === 'note' && now.words !== words)
        keeper.do([putChange(keeper, { ...now, words }, now)], `words:${noteId}`);
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
    const marks = standingMarks(sheet);
    const { draft } = noteDraft;
    return marks.map((m) =>
      dragged?.id === m.id
        ? dragged
        : draft && m.id === draft.about && m.kind === 'note'
          ? { ...m, words: draft.words }
          : m,
    );
  }, [sheet, noteDraft.draft, dragged]);
  const lastByPage = useRef<(readonly Mark[])[]>([]);
  const byPage = useMemo(() => {
    lastByPage.current = marksByPage(shownMarks, pages, lastByPage.current);
    return lastByPage.current;
  }, [shownMarks, pages]);
  const picked = shownMarks.find((m) => m.id === pickedId) ?? null;

  const letGo = useCallback(() => {
    noteDraft.flush();
    setPickedId((id) => {
      const note = id && keeper.view.sheet.marks.get(id)?.value;
      // A note that says nothing was a slip of the pen.
      if (note && note.kind === 'note' && note.words.trim() === '')
        keeper.do([removeChange(keeper, note)], `words:${note.id}`);
      return null;
    });
    setEditing(false);
  }, [keeper, noteDraft.flush]);
  const pick = useCallback(
    (mark: Mark | null, edit = false) => {
      if (mark?.id !== pickedId) letGo();
      setPickedId(mark?.id ?? null);
      setEditing(edit && mark?.kind === 'note');
    },
    [letGo, pickedId],
  );
  const takeAway = (mark: Mark) => {
    noteDraft.flush();
    const now = keeper.view.sheet.marks.get(mark.id)?.value;
    if (now) keeper.do([removeChange(keeper, now)]);
    setPickedId(null);
    setEditing(false);
  };
  const make = (mark: Mark) => {
    keeper.do([putChange(keeper, mark, null)], mark.kind === 'note' ? `words:${mark.id}` : null);
    if (mark.kind === 'note') {
      setPickedId(mark.id);
      setEditing(true);
    }
  };

  const takePen = (index: number) => {
    setTaken(index);
    setCursor(null);
    sessionStorage.setItem(KEPT_HERE.pen, String(index));
  };
  const pen = readOnly ? STARTER_TRAY.at(-1)! : STARTER_TRAY[taken]!;

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
    make,
    rubOut: (marks, sweep) =>
      keeper.do(
        marks.filter((m) => keeper.view.sheet.marks.get(m.id)?.value).map((m) => removeChange(keeper, m)),
        `sweep:${sweep}`,
      ),
    drag: (mark) => !readOnly && setDragged(mark),
    move: (before, after) => !readOnly && keeper.do([putChange(keeper, after, before)]),
    select: pick,
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
  const foldSlip = () => {
    setSlip(!slip);
    localStorage.setItem(KEPT_HERE.slip, slip ? 'folded' : 'open');
  };

  // --- the word cursor: marking text without a pointer
  const walkWords = (key: string, extend: boolean) => {
    const page = cursor?.page ?? pageNow;
    const text = texts[page];
    const words = text ? moveCursor(text, cursor?.words ?? null, key, extend) : null;
    if (!words) return void toast('This page has no words to walk: it is a picture.');
    setCursor({ page, words });
    const box = text!.words[words.at]!.box;
    reveal(scroller.current, { index: page, box }, pages, zoom);
  };
  const markWords = () => {
    const text = cursor && texts[cursor.page];
    const page = cursor && pages[cursor.page];
    if (!text || !page || !('colour' in pen) || pen.tool === 'ink')
      return void toast('Take a highlighter or a note pen first.');
    const range = rangeOf(cursor.words);
    const place = { on: 'passage' as const, bands: bandsOver(text, range), quote: quoteOf(text, range) };
    const base = {
      v: 1 as const,
      id: newId<MarkId>(),
      document: page.document,
      page: page.page,
      colour: pen.colour,
      focus: pen.focus,
      madeAt: Date.now(),
    };
    setCursor(null);
    make(
      pen.tool === 'note'
        ? { ...base, kind: 'note', place, words: '' }
        : { ...base, kind: 'highlight', place },
    );
  };

  useDeskKeys({
    off: keySheet,
    takePen: (i) => !readOnly && takePen(i),
    undo: () => !readOnly && back('undo'),
    redo: () => !readOnly && back('redo'),
    next: () => go(beside(1)),
    before: () => go(beside(-1)),
    done: () => !readOnly && setDone(true, true),
    remove: () => !readOnly && picked && takeAway(picked),
    nudge: (dx, dy) => {
      if (!picked || readOnly || !isMovable(picked)) return false;
      keeper.do([putChange(keeper, moveMark(picked, dx, dy), picked)], `nudge:${picked.id}`);
      return true;
    },
    letGo: () => {
      pad.current?.giveUp();
      setCursor(null);
      letGo();
    },
    edit: () => picked?.kind === 'note' && !readOnly && setEditing(true),
    grade: () => gradeRef.current?.focus(),
    closing: () => closingRef.current?.focus(),
    larger: () => step(ZOOM_STEP),
    smaller: () => step(1 / ZOOM_STEP),
    fit: setWish,
    turn: () => !readOnly && turnPage(),
    slip: foldSlip,
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
            disabled={readOnly || !kept.canUndo}
            onClick={() => back('undo')}
            icon={Undo2}
          />
          <IconButton
            label="Redo"
            disabled={readOnly || !kept.canRedo}
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
            label={slip ? 'Fold the slip away' : 'Unfold the slip'}
            onClick={foldSlip}
            icon={slip ? PanelRightClose : PanelRightOpen}
          />
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
        <PileStrip rows={rows} here={desk.copyId} />
        <main className="relative min-w-0 flex-1">
          <Clashes
            clashes={kept.clashes}
            sheet={sheet}
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
                className="absolute inset-0 touch-none overflow-auto px-5 pt-4 pb-28 select-none"
              >
                <Enclosures documents={desk.documents} />
                {measured && (
                  <MarkedPageStack
                    pages={pages}
                    zoom={zoom}
                    byPage={byPage}
                    picked={picked}
                    wordsOn={(i) =>
                      cursor?.page === i && texts[i] ? bandsOver(texts[i], rangeOf(cursor.words)) : []
                    }
                    active={pickedId}
                    onActivate={(note, edit) => (note ? pick(note, edit) : letGo())}
                    {...(readOnly
                      ? {}
                      : {
                          writing: {
                            editing,
                            onWords: (note: NoteMark, words: string) => noteDraft.type(note.id, words),
                            onRemove: takeAway,
                          },
                        })}
                  />
                )}
              </div>
              <canvas ref={liveCanvas} className="pointer-events-none absolute top-0 left-0 size-full" />
              {!readOnly && (
                <div className="pointer-events-none absolute inset-x-0 bottom-3 flex justify-center [&>*]:pointer-events-auto">
                  <PenTray taken={taken} onTake={takePen} />
                </div>
              )}
            </>
          ) : (
            <NotReady stack={stack} documents={desk.documents} />
          )}
        </main>
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
            last={beside(1) === null}
            selected={picked}
            gradeRef={gradeRef}
            closingRef={closingRef}
            onGrade={(value) => keeper.write('grade', value, 'grade')}
            onClosing={(words) => closingDraft.type('closing', words)}
            onDone={setDone}
            onNext={() => go(beside(1))}
            onPick={(mark) => {
              pick(mark);
              reveal(scroller.current, mark, pages, zoom);
            }}
          >
            <DeskWords desk={desk} />
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

/** The conversation with the student, unfolded when there is something new in it. */
function DeskWords({ desk }: { desk: Desk }) {
  const unread = useUnread(desk.copyId);
  return (
    <details className="mt-4 border-t border-line pt-3" open={unread > 0 || undefined}>
      <summary className="cursor-pointer text-sm text-soft">
        Words with {desk.student.given}
        {unread > 0 && <span className="ml-2 font-semibold text-caution">{unread} new</span>}
      </summary>
      <div className="mt-2">
        <Conversation copyId={desk.copyId} withWhom={desk.student.given} />
      </div>
    </details>
  );
}

/** Nothing to write on: pages are still being made, cannot be, or there never are any. The slip beside it works all the same. */
function NotReady({
  stack,
  documents,
}: {
  stack: ReturnType<typeof usePageList>;
  documents: readonly DocumentState[];
}) {
  if (stack.error) return <Trouble error={stack.error} />;
  const failed = stack.states.filter((d) => d.shows === 'pages' && d.reading.state === 'failed');
  if (stack.settled && !stack.loading)
    return (
      <div className="absolute inset-0 overflow-auto p-6">
        <Enclosures
          documents={
            stack.states.length
              ? [...documents.filter((d) => d.shows !== 'pages'), ...stack.states]
              : documents
          }
        />
        {documents.length === 0 && (
          <p className="mx-auto mt-24 max-w-md rounded-lg bg-raised p-6">
            There is nothing to look at: the student called this work done. Give a grade and closing words on
            the slip.
          </p>
        )}
        {failed.map((d) => (
          <p key={d.id} className="mx-auto mt-6 max-w-md rounded-lg bg-raised p-6">
            The pages of “{d.name}” cannot be read. The file is kept. You can still give a grade and closing
            words on the slip, or ask the student for another file.{' '}
            <a className="text-action underline" href={originalOf(d.id, true)} download>
              Save the file
            </a>
          </p>
        ))}
      </div>
    );
  const total = stack.states.reduce((n, d) => n + d.reading.total, 0);
  const done = stack.states.reduce((n, d) => n + d.reading.done, 0);
  return (
    <div role="status" className="mx-auto mt-24 w-72 text-center text-soft">
      Reading the pages{total ? `: ${done} of ${total}` : ' …'}
      <progress className="mt-3 w-full accent-action" max={total || 1} value={done} />
    </div>
  );
}

function putChange(keeper: SheetKeeper, mark: Mark, was: Mark | null): Change {
  return { id: newId<ChangeId>(), base: versionOf(keeper.view.sheet, mark.id), type: 'put', mark, was };
}

function removeChange(keeper: SheetKeeper, mark: Mark): Change {
  return { id: newId<ChangeId>(), base: versionOf(keeper.view.sheet, mark.id), type: 'remove', mark };
}

/** Brings a mark, or a box on a page, into sight if it is out of it. */
function reveal(
  scroller: HTMLElement | null,
  what: Mark | { index: number; box: Box },
  pages: readonly ShownPage[],
  zoom: number,
): void {
  const index = 'box' in what ? what.index : indexOfMark(pages, what);
  const page = pages[index];
  const element = scroller?.querySelector<HTMLElement>(`[data-index="${index}"]`);
  if (!scroller || !element || !page) return;
  const box = 'box' in what ? what.box : coverOf(what);
  const view = viewOf(page.frame, page.turn, zoom);
  const outer = scroller.getBoundingClientRect();
  const rect = element.getBoundingClientRect();
  const [w, h] = pageSize(page.frame);
  const middle = box;
  // In the unrotated page the middle of the box is this share of the way; turned pages are brought in whole.
  const y =
    view.turn === 0 ? rect.top + ((middle[1] + middle[3]) / 2 / h) * rect.height : rect.top + rect.height / 2;
  const x =
    view.turn === 0 ? rect.left + ((middle[0] + middle[2]) / 2 / w) * rect.width : rect.left + rect.width / 2;
  const seen = overlaps(
    [x, y, x, y],
    [outer.left + 20, outer.top + 20, outer.right - 20, outer.bottom - 110],
  );
  if (!seen)
    scroller.scrollBy(
      Math.min(0, x - outer.left - 40) + Math.max(0, x - outer.right + 40),
      y - outer.top - outer.height / 2,
    );
}

import {
  AssignmentId,
  type CloseLook,
  CopyId,
  EMPTY_TEXT,
  inPageOrder,
  isHere,
  type MessageId,
  type MessagePlace,
  numberQuestions,
  type QuestionId,
  quoteIn,
  takesWords,
  toPage,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { addressOf, CallFailed, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { Conversation } from '../conversation/Conversation.tsx';
import { answerIntoSight } from '../fields/into-sight.ts';
import { SheetStack } from '../fields/SheetStack.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { useZoom } from '../hand/useZoom.ts';
import { useLive } from '../live/useLive.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { marksByPage } from '../paper/marks-by-page.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import { usePageList } from '../paper/page-list.ts';
import { WordsField } from '../words/WordsField.tsx';
import { chosenIn } from '../writing/chosen.ts';
import { LinedPaper } from '../writing/LinedPaper.tsx';
import { LongShow } from '../writing/LongShow.tsx';
import { useOverPages } from './useOverPages.tsx';

/** Who comes: the teacher who bends over one copy. Sees it grow, says a word at the very spot, shows it to the class without its name. */
export function CloseLookView() {
  const { assignmentId, copyId } = useParams();
  const assignment = AssignmentId.safeParse(assignmentId);
  const copy = CopyId.safeParse(copyId);
  const tell = useTell();
  const look = useQuery({
    queryKey: keys.look(copy.data),
    queryFn: () => call('closeLook', { params: { copyId: copy.data! } }),
    enabled: copy.success && assignment.success,
    refetchInterval: 10_000,
  });
  const fresh = () => copy.data && tell('copyChanged', { copyId: copy.data });
  const line = useLive(
    assignment.success ? addressOf('roomLive', { assignmentId: assignment.data }) : null,
    (hint) => {
      if (hint.copyId !== copy.data) return;
      if (hint.kind === 'word') tell('wordSaid', { copyId: copy.data! });
      else fresh();
    },
    fresh,
  );
  if (!copy.success || !assignment.success || look.error || !look.data)
    return (
      <>
        <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Walk the room' }]} />
        {look.error || !copy.success || !assignment.success ? (
          <Trouble error={look.error ?? new CallFailed('not-found')} again={() => look.refetch()} />
        ) : (
          <Waiting what="the copy" />
        )}
      </>
    );
  return <Look look={look.data} live={line === 'live'} />;
}

function Look({ look, live }: { look: CloseLook; live: boolean }) {
  const { row, assignment } = look;
  const [shown, setShown] = useState(false);
  const [place, setPlace] = useState<MessagePlace | null>(null);
  const name = `${row.student.given} ${row.student.family}`;
  const documents = useMemo(() => look.sheets.map((s) => s.document), [look.sheets]);
  const { pages, settled } = usePageList(documents);
  const ready = settled && pages.length > 0;
  const scroller = useRef<HTMLDivElement>(null);
  const { zoom, measured } = useZoom(scroller, pages, ready, 0);
  // One comes to see what is being done: the page opens where the hand is, and stays where the teacher reads.
  const came = useRef(false);
  useEffect(() => {
    if (!ready || !measured || came.current) return;
    came.current = true;
    if (row.atQuestion) answerIntoSight(scroller.current, row.atQuestion);
  }, [ready, measured, row.atQuestion]);
  const marks = useMemo(() => look.state.marks.flatMap((m) => (m.mark ? [m.mark] : [])), [look.state]);
  const last = useRef<ReturnType<typeof marksByPage>>([]);
  const overPage = useOverPages(row.copyId, marks);
  const byPage = useMemo(() => {
    last.current = marksByPage(marks, pages, last.current);
    return last.current;
  }, [marks, pages]);
  const questions = useMemo(
    () =>
      pages.map((p) => {
        const sheet = look.sheets.find((s) => s.document.id === p.document);
        return inPageOrder((sheet?.questions ?? []).filter((q) => q.page === p.page && takesWords(q)));
      }),
    [pages, look.sheets],
  );
  const numbers = useMemo(
    () => new Map<QuestionId, string>(look.sheets.flatMap((s) => [...numberQuestions(s.questions)])),
    [look.sheets],
  );
  const written = useMemo(() => new Map(look.written.map((w) => [w.question, w.text])), [look.written]);
  const answers = useMemo(() => new Map(look.state.answers.map((a) => [a.question, a.value])), [look.state]);
  const pin = (e: PointerEvent<HTMLDivElement>) => {
    const paper = (e.target as HTMLElement).closest<HTMLElement>('[data-index]');
    const page = paper && pages[Number(paper.dataset.index)];
    if (!paper || !page || shown || (e.target as HTMLElement).closest('[data-said]')) return;
    const rect = paper.getBoundingClientRect();
    const [x, y] = toPage(viewOf(page.frame, page.turn, zoom), [e.clientX - rect.left, e.clientY - rect.top]);
    // Words that were chosen in an answer are what is meant.
    const field = e.target as HTMLTextAreaElement;
    const quote =
      typeof field.selectionEnd === 'number'
        ? quoteIn(field.value, field.selectionStart, field.selectionEnd)
        : chosenIn((e.target as HTMLElement).closest<HTMLElement>('[data-long]'), [...written.values()]);
    setPlace({
      document: page.document,
      page: page.page,
      x: Math.round(x),
      y: Math.round(y),
      ...(quote && { quote }),
    });
  };
  return (
    <div className="flex h-full flex-col">
      {shown ? (
        <div className="flex min-h-12 items-center border-b border-line bg-tray px-5">
          <p className="text-soft">{assignment.title}</p>
          <button type="button" className="quiet ml-auto" onClick={() => setShown(false)}>
            Back
          </button>
        </div>
      ) : (
        <TopBar
          crumbs={[
            { text: assignment.title, to: `/piles/${assignment.id}` },
            { text: 'Walk the room', to: `/room/${assignment.id}` },
            { text: name },
          ]}
        >
          <span role="status" className={`text-sm ${live ? 'text-soft' : 'text-caution'}`}>
            {live ? (isHere(row, look.now) ? 'Live, here' : 'Live, away') : 'Not live just now …'}
          </span>
          <Link to={`/copies/${row.copyId}/trail`} className="text-action hover:underline">
            Working trail
          </Link>
          <button type="button" className="quiet" onClick={() => setShown(true)}>
            Show it to the class
          </button>
        </TopBar>
      )}
      <main className="flex min-h-0 flex-1">
        <div
          ref={scroller}
          data-scroller
          tabIndex={0}
          role="region"
          aria-label="Pages of the copy"
          className="min-w-0 flex-1 overflow-auto p-5"
          onPointerUp={pin}
        >
          {!ready ? (
            documents.length ? (
              <Waiting what="the pages" />
            ) : (
              <p className="text-soft">There is no worksheet; files are seen when they are handed in.</p>
            )
          ) : (
            measured && (
              <SheetStack
                pages={pages}
                zoom={zoom}
                byPage={byPage}
                picked={[]}
                questions={questions}
                numbers={numbers}
                pins={place ? [{ id: 'new', place, words: '' }] : []}
                answerAt={(id) => answers.get(id) ?? ''}
                long={(q, number) => (
                  <LinedPaper zoom={zoom} narrow={false} edges={[]}>
                    <LongShow text={written.get(q.id) ?? EMPTY_TEXT} label={`Text of ${number}`} />
                  </LinedPaper>
                )}
                over={(page, view) => (shown ? null : overPage(page, view))}
              />
            )
          )}
        </div>
        {!shown && (
          <aside
            className="w-[320px] shrink-0 overflow-y-auto border-l border-line bg-raised p-5"
            aria-label="Words"
          >
            {row.atQuestion && row.place === 'with-student' && (
              <button
                type="button"
                className="quiet mb-3 w-full"
                onClick={() => answerIntoSight(scroller.current, row.atQuestion!)}
              >
                {row.student.given} was last at {numbers.get(row.atQuestion)}
              </button>
            )}
            <p className="mb-3 text-soft">
              {place
                ? 'Your message points to the place you clicked.'
                : 'Click a place on the page to write about it. Select words in an answer to suggest a change.'}
            </p>
            {place && <SayAtSpot copyId={row.copyId} place={place} onSaid={() => setPlace(null)} />}
            <Conversation copyId={row.copyId} withWhom={row.student.given} />
          </aside>
        )}
      </main>
    </div>
  );
}

function SayAtSpot({ copyId, place, onSaid }: { copyId: CopyId; place: MessagePlace; onSaid(): void }) {
  const field = useRef<HTMLTextAreaElement | null>(null);
  const [words, setWords] = useState('');
  const [instead, setInstead] = useState<string | null>(null);
  useEffect(() => field.current?.focus(), []);
  const proposes = instead !== null;
  const say = () => {
    if (!words.trim() && !proposes) return;
    const change = instead?.trim()
      ? { kind: 'swap' as const, words: instead.trim() }
      : { kind: 'cut' as const };
    outbox.say(copyId, {
      type: 'word',
      id: newId<MessageId>(),
      words: words.trim(),
      place: proposes ? { ...place, instead: change } : place,
    });
    onSaid();
  };
  return (
    <form
      className="mb-5 rounded-lg bg-action-wash p-3"
      onSubmit={(e) => {
        e.preventDefault();
        say();
      }}
    >
      {place.quote && (
        <p className="mb-1 text-sm">{proposes ? <s>{place.quote.exact}</s> : <q>{place.quote.exact}</q>}</p>
      )}
      {place.quote &&
        (proposes ? (
          <input
            ref={(el) => {
              if (el && !el.dataset.had) {
                el.dataset.had = 'yes';
                el.focus();
              }
            }}
            className="field mb-2"
            aria-label="Replace with"
            placeholder="Replace with …; leave empty to delete"
            maxLength={1000}
            value={instead}
            onChange={(e) => setInstead(e.target.value)}
          />
        ) : (
          <button type="button" className="quiet mb-2" onClick={() => setInstead('')}>
            Suggest a change
          </button>
        ))}
      <p className="text-sm">Message at this place</p>
      <WordsField
        field={field}
        label="Message at this place"
        className="field mt-1"
        most={4000}
        value={words}
        onValue={setWords}
        onSend={say}
      />
      <div className="mt-2 flex gap-2">
        <button type="submit" className="act" disabled={!words.trim() && !proposes}>
          Send now
        </button>
        <button type="button" className="quiet" onClick={onSaid}>
          Cancel
        </button>
      </div>
    </form>
  );
}

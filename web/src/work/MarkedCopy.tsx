import {
  countFocuses,
  type DocumentState,
  type HandBackShape,
  inReadingOrder,
  isMarginMark,
  type MarginMark,
  type Mark,
  momentOf,
  plainWords,
  type Work,
  withEchoes,
} from '@jotmark/core';
import { Download } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { saveOrdered } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useSaidHere } from '../conversation/SaidHere.tsx';
import { TalkAt } from '../conversation/TalkAt.tsx';
import { isSettled, NO_TALK, talksOf } from '../conversation/talk.ts';
import { useMessages } from '../conversation/useMessages.ts';
import { jumpTo } from '../film/jump.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { useHere } from '../frame/session.tsx';
import { Waiting } from '../frame/states.tsx';
import { PHONE, useMedia } from '../frame/useMedia.ts';
import { useZoom } from '../hand/useZoom.ts';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { MarkedPageStack } from '../margin/MarkedPageStack.tsx';
import { MARGIN_FOLDED, type MarginLook, PLAIN_MARGIN, SIGNS_ONLY } from '../margin/margin-look.ts';
import { describeMark } from '../marks/describe.ts';
import { Enclosures } from '../paper/Enclosures.tsx';
import { marksByPage } from '../paper/marks-by-page.ts';
import { usePageList, usePageTexts } from '../paper/page-list.ts';
import { GradeRead } from '../scores/GradeRead.tsx';
import { RoundsRead } from '../scores/RoundsRead.tsx';
import { VoicesContext } from '../voice/playing.ts';
import { StageContext } from '../voice/talk-stage.ts';
import { useTalkPlayed } from '../voice/useTalkPlayed.ts';
import { VoiceHere } from '../voice/VoiceHere.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { SuggestionActs } from './SuggestionActs.tsx';
import { Task } from './Task.tsx';
import { useHeard } from './useHeard.ts';

/** Only where there is a film. */
const ReturnedFilm = onDemand(() => import('./ReturnedFilm.tsx').then((m) => m.ReturnedFilm));

/** Who comes: the student whose work came back. Reads the words first, finds each note at its place, sees the grade last. */
export function MarkedCopy({ work, handBack }: { work: Work; handBack: HandBackShape }) {
  const { clock } = useHere();
  const { snapshot } = handBack;
  const [active, setActive] = useState<string | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  // A telephone has no room for words beside the page: they open over it.
  const phone = useMedia(PHONE);
  const notes = useMemo(() => inReadingOrder(snapshot.marks).filter(isMarginMark), [snapshot]);
  const said = useMessages(work.row.copyId);
  const saidHere = useSaidHere(work.row.copyId, handBack.filled);
  const talks = useMemo(() => talksOf(said ?? []), [said]);
  const typed = useMemo(() => new Set(handBack.filled.map((f) => f.document)), [handBack]);
  const settledAt = (note: MarginMark) => isSettled(talks.get(note.id) ?? NO_TALK, note, typed);
  const settled = notes.filter(settledAt).length;
  const [only, setOnly] = useState<string | null>(null);
  const listed = only === null ? notes : notes.filter((n) => n.focus === only);
  const look = useMemo(
    (): MarginLook => ({
      ...(phone ? SIGNS_ONLY : PLAIN_MARGIN),
      below: (note, onOpen) => {
        const talk = talks.get(note.id) ?? NO_TALK;
        const settled = isSettled(talk, note, typed);
        const about = { note, talk, settled };
        return (
          <TalkAt
            {...about}
            onOpen={onOpen}
            copyId={work.row.copyId}
            open={note.id === active}
            acts={<SuggestionActs {...about} work={work} inFile={!typed.has(note.document)} />}
          />
        );
      },
    }),
    [work, talks, typed, active, phone],
  );

  const talk = useTalkPlayed({
    marks: snapshot.marks,
    follow: ({ document, page, mark }) =>
      scroller.current
        ?.querySelector(`[data-document="${document}"][data-page="${page}"]`)
        ?.scrollIntoView({ block: mark ? 'nearest' : 'start', inline: 'nearest' }),
  });
  const voices = useHeard(handBack, talk.onTalk);
  const goTo = (note: MarginMark) => {
    setActive(note.id);
    const at = momentOf(note);
    if (at !== null && jumpTo(note.document, at)) return;
    scroller.current
      ?.querySelector(`[data-document="${note.document}"][data-page="${note.page}"]`)
      ?.scrollIntoView({ block: 'center', inline: 'nearest' });
  };
  return (
    <VoicesContext value={voices}>
      <StageContext value={talk.stage}>
        <main className="flex min-h-0 flex-1 flex-col lg:h-[calc(100vh-3rem)] lg:flex-none lg:flex-row">
          <aside
            className="shrink-0 overflow-y-auto border-line bg-raised p-5 lg:w-[300px] lg:border-r"
            aria-label="What your teacher says"
          >
            {snapshot.closing && (
              <div className="font-hand text-[21px] leading-[30px] break-words text-garnet">
                <WordsShow words={snapshot.closing} />
              </div>
            )}
            {snapshot.voice && (
              <div className="mt-3">
                <VoiceHere recording={snapshot.voice} label="Recording about your whole copy" large />
              </div>
            )}
            <p className="mt-2 text-sm text-soft">
              {snapshot.markedBy}, {clock.moment(handBack.handedBackAt, Date.now())}
            </p>
            <h2 className="mt-5 font-bold">
              {notes.length ? 'Notes on your pages' : 'No notes on your pages'}
            </h2>
            {notes.length > 0 && (
              <p className="text-sm text-soft">
                {settled} of {notes.length} done
              </p>
            )}
            <Legend marks={snapshot.marks} only={only} onOnly={setOnly} />
            {listed.length === 0 && only !== null && (
              <p className="mt-1 text-sm text-soft">
                No note is about this: look for its colour on your pages.
              </p>
            )}
            <ol className="mt-1 divide-y divide-line">
              {listed.map((note) => (
                <li key={note.id}>
                  <button
                    type="button"
                    aria-pressed={active === note.id}
                    className={`flex w-full items-baseline gap-2 rounded px-1 py-2 text-left hover:bg-action-wash ${active === note.id ? 'bg-action-wash' : ''}`}
                    onClick={() => goTo(note)}
                  >
                    <FocusSignGlyph colour={note.colour} sign={note.sign} size={11} />
                    <span
                      className={`min-w-0 break-words ${settledAt(note) ? 'text-soft line-through' : ''}`}
                    >
                      {note.kind === 'note'
                        ? plainWords(note.words) || describeMark(note)
                        : describeMark(note)}
                    </span>
                  </button>
                </li>
              ))}
            </ol>
            {snapshot.scored?.rubric && (
              <div className="mt-6">
                <RoundsRead
                  name={snapshot.scored.rubric.name}
                  criteria={snapshot.scored.rubric.criteria}
                  rounds={snapshot.scored.rounds}
                  graded={snapshot.most !== null}
                />
              </div>
            )}
            <GradeRead snapshot={snapshot} />
            <div className="mt-5 space-y-2">
              {(handBack.documents.some((d) => d.shows === 'pages') ||
                snapshot.marks.some((m) => momentOf(m) !== null)) && <DownloadPdf handBackId={handBack.id} />}
              <Link to="?improve" className="quiet block w-full text-center">
                {work.row.place === 'in-again'
                  ? 'See what you handed in again'
                  : handBack.handInNumber === 0
                    ? 'Hand something in'
                    : 'Improve and hand in again'}
              </Link>
            </div>
            <div className="mt-5 border-t border-line pt-4">
              <Task work={work} scored={snapshot.scored?.rubric != null} />
            </div>
          </aside>
          <MarkedPages
            handBack={handBack}
            scroller={scroller}
            active={active}
            look={look}
            over={saidHere}
            onActive={setActive}
          />
        </main>
      </StageContext>
    </VoicesContext>
  );
}

interface LegendProps {
  readonly marks: readonly Mark[];
  /** The focus whose notes alone are listed; null: all. */
  readonly only: string | null;
  onOnly(focus: string | null): void;
}

/** What the signs mean; pressed, one lists its notes alone. */
function Legend({ marks, only, onOnly }: LegendProps) {
  const focuses = countFocuses(marks.filter((m) => isMarginMark(m) || m.kind === 'highlight'));
  if (focuses.length === 0) return null;
  return (
    <p className="mt-1 flex flex-wrap gap-x-3 text-sm text-soft">
      {focuses.map((f) => (
        <button
          key={f.name}
          type="button"
          aria-pressed={only === f.name}
          className={`inline-flex items-center gap-1 rounded px-1 hover:bg-action-wash ${only === f.name ? 'bg-action-wash text-action' : ''}`}
          onClick={() => onOnly(only === f.name ? null : f.name)}
        >
          <FocusSignGlyph colour={f.colour} sign={f.sign} size={10} />
          {f.name}
        </button>
      ))}
    </p>
  );
}

interface PagesProps {
  readonly handBack: HandBackShape;
  readonly scroller: React.RefObject<HTMLDivElement | null>;
  readonly active: string | null;
  readonly look: MarginLook;
  readonly over: ReturnType<typeof useSaidHere>;
  onActive(id: string | null): void;
}

function MarkedPages({ handBack, scroller, active, look, over, onActive }: PagesProps) {
  const { snapshot } = handBack;
  const { pages, settled } = usePageList(handBack.documents, snapshot.turns);
  const byPage = useMemo(() => marksByPage(withEchoes(snapshot.marks), pages, []), [snapshot, pages]);
  const texts = usePageTexts(pages);
  const ready = settled && pages.length > 0;
  const { zoom, measured } = useZoom(
    scroller,
    pages,
    ready,
    look.show === 'narrow' ? MARGIN_FOLDED : undefined,
  );
  const film = (document: DocumentState) => (
    <ReturnedFilm
      document={document}
      marks={snapshot.marks}
      active={active}
      below={look.below ?? null}
      onActive={onActive}
    />
  );
  if (settled && pages.length === 0)
    return (
      <div className="min-w-0 flex-1 p-5">
        <Enclosures documents={handBack.documents} film={film} />
      </div>
    );
  if (!ready) return <Waiting what="your pages" />;
  const picked = withEchoes(snapshot.marks).filter((m) => m.id === active);
  return (
    <div
      ref={scroller}
      data-scroller
      tabIndex={0}
      role="region"
      aria-label="Your pages"
      className="min-h-[70vh] min-w-0 flex-1 overflow-auto p-5"
    >
      <Enclosures documents={handBack.documents} film={film} />
      {measured && (
        <MarkedPageStack
          pages={pages}
          zoom={zoom}
          byPage={byPage}
          picked={picked}
          active={active}
          texts={texts}
          look={look}
          over={over}
          onActivate={(note) => onActive(note?.id ?? null)}
        />
      )}
    </div>
  );
}

/** Made by a job when it is first wanted; then the browser saves it. */
function DownloadPdf({ handBackId }: { handBackId: HandBackShape['id'] }) {
  const [state, setState] = useState<'idle' | 'making' | { trouble: string }>('idle');
  const fetchIt = async () => {
    setState('making');
    try {
      await saveOrdered(await call('makePdf', { params: { handBackId } }));
      setState('idle');
    } catch (error) {
      setState({
        trouble:
          error instanceof CallFailed && error.code === 'unexpected'
            ? 'The PDF could not be made. Your marked pages are all here. Try again.'
            : sentenceOf(error),
      });
    }
  };
  return (
    <>
      <button
        type="button"
        className="act flex w-full items-center justify-center gap-2"
        disabled={state === 'making'}
        onClick={fetchIt}
      >
        <Download size={18} aria-hidden="true" />{' '}
        {state === 'making' ? 'Making the PDF …' : 'Download as PDF'}
      </button>
      {typeof state === 'object' && (
        <p role="alert" className="text-sm text-caution">
          {state.trouble}
        </p>
      )}
    </>
  );
}

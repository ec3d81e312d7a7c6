import { type HandBackShape, isSuggestion, type MarginMark, recordingOf, type Work } from '@jotmark/core';
import { useCallback, useState } from 'react';
import { TalkAt } from '../conversation/TalkAt.tsx';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { NO_MARGIN } from '../margin/margin-look.ts';
import { Proposal } from '../margin/NoteWords.tsx';
import { MARGIN_NAMES } from '../marks/describe.ts';
import { VoiceHere } from '../voice/VoiceHere.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { BackFoot } from './BackFoot.tsx';
import { BackHead } from './BackHead.tsx';
import { MarkedPages } from './MarkedPages.tsx';
import { NoteNumbers } from './NoteNumbers.tsx';
import { SuggestionActs } from './SuggestionActs.tsx';
import { ToThinkAbout } from './ToThinkAbout.tsx';
import type { MarkedCopyNow } from './useMarkedCopy.ts';

interface Props {
  /** Null: a teacher looks at it as its student would. */
  readonly work: Work | null;
  readonly mine: boolean;
  readonly handBack: HandBackShape;
  readonly marked: MarkedCopyNow;
  readonly over: React.ComponentProps<typeof MarkedPages>['over'];
}

/** What one goes through: the words first, each note, all pages, and where one stands. */
type Stop = MarginMark | 'words' | 'pages' | 'end';

/** A copy that came back, on a telephone: the words first, then one note at a time with its place above it, then the pages, then where one stands. */
export function NoteByNote({ work, mine, handBack, marked, over }: Props) {
  const { notes, current, goTo, setActive } = marked;
  const [rest, setRest] = useState<Exclude<Stop, MarginMark>>('words');
  const hasPages = handBack.documents.length > 0;
  const stops: readonly Stop[] = ['words', ...notes, ...(hasPages ? (['pages'] as const) : []), 'end'];
  const stop: Stop = notes[current] ?? rest;
  const at = stops.indexOf(stop);
  const go = (to: Stop) => {
    if (typeof to !== 'string') return goTo(to);
    setActive(null);
    setRest(to);
  };
  const nameOf = (of: Stop | undefined): string => {
    if (typeof of === 'object') return `Note ${notes.indexOf(of) + 1}`;
    return of === 'words' ? 'First words' : of === 'pages' ? 'Your pages' : endName(handBack);
  };
  const toNote = (id: string | null) => {
    const to = notes.find((n) => n.id === id);
    if (to) go(to);
  };
  const { active } = marked;
  const numbered = useCallback<typeof over>(
    (page, view) => (
      <>
        {over(page, view)}
        <NoteNumbers notes={notes} page={page} view={view} active={active} onGo={goTo} />
      </>
    ),
    [over, notes, active, goTo],
  );
  const pages = {
    handBack,
    scroller: marked.scroller,
    active: marked.active,
    look: NO_MARGIN,
    over: numbered,
    onActive: toNote,
  };
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <Progress marked={marked} at={current} />
      {typeof stop === 'object' && (
        <>
          <div className="flex h-[44dvh] flex-col border-b border-line-strong">
            <MarkedPages {...pages} className="px-2 py-3" nearer={1.8} />
          </div>
          <NoteRead work={work} note={stop} marked={marked} />
        </>
      )}
      {stop === 'pages' && (
        <div className="flex h-[calc(100dvh-11rem)] flex-col">
          <MarkedPages {...pages} className="px-2 py-3" />
        </div>
      )}
      {stop === 'words' && (
        <div className="flex-1 bg-raised p-5">
          <BackHead handBack={handBack} />
        </div>
      )}
      {stop === 'end' && (
        <div className="flex-1 bg-raised p-5">
          <ToThinkAbout copyId={work?.row.copyId ?? null} handBack={handBack} said={marked.said} />
          <BackFoot work={work} mine={mine} handBack={handBack} closed={marked.closed} />
        </div>
      )}
      <nav className="sticky bottom-0 z-30 flex border-t border-line bg-raised" aria-label="Notes">
        <Step words={nameOf(stops[at - 1])} side="before" off={at === 0} onStep={() => go(stops[at - 1]!)} />
        <Step
          words={nameOf(stops[at + 1])}
          side="next"
          off={at === stops.length - 1}
          onStep={() => go(stops[at + 1]!)}
        />
      </nav>
    </main>
  );
}

/** What is behind all the rest. */
const endName = ({ snapshot }: HandBackShape): string =>
  snapshot.unfinished ? 'The end' : snapshot.most === null ? 'Where you stand' : 'The grade';

function Step({
  words,
  side,
  off,
  onStep,
}: {
  words: string;
  side: 'before' | 'next';
  off: boolean;
  onStep(): void;
}) {
  return (
    <button
      type="button"
      disabled={off}
      className={`min-h-12 flex-1 px-4 font-semibold text-action disabled:invisible ${side === 'next' ? 'text-right' : 'text-left'}`}
      onClick={onStep}
    >
      {side === 'before' && '‹ '}
      {words}
      {side === 'next' && ' ›'}
    </button>
  );
}

/** How far one is: a piece for each note, filled when it is done with, framed where one reads. */
function Progress({ marked, at }: { marked: MarkedCopyNow; at: number }) {
  const { notes, settledAt } = marked;
  const done = notes.filter(settledAt).length;
  if (notes.length === 0) return null;
  return (
    <div className="flex items-center gap-3 border-b border-line bg-margin px-4 py-2">
      <h2 className="font-bold">Your turn</h2>
      <span className="flex min-w-0 flex-1 gap-0.5" aria-hidden="true">
        {notes.map((n, i) => (
          <span
            key={n.id}
            className={`h-2 min-w-0 flex-1 rounded-sm ${settledAt(n) ? 'bg-action' : 'bg-line'} ${i === at ? 'outline-2 outline-action' : ''}`}
          />
        ))}
      </span>
      <span className="text-sm text-soft tabular">
        {done} of {notes.length} done
      </span>
    </div>
  );
}

function NoteRead({ work, note, marked }: { work: Work | null; note: MarginMark; marked: MarkedCopyNow }) {
  const recording = recordingOf(note);
  const talk = marked.talkOf(note);
  const settled = marked.settledAt(note);
  const about = note.focus ?? MARGIN_NAMES[note.kind];
  return (
    <article
      className="flex-1 bg-raised p-4 text-[17px] [&_button.quiet]:!min-h-11 [&_button.quiet]:!px-5 [&_button.quiet]:!text-base"
      aria-label={about}
    >
      <p className="flex items-center gap-2 text-sm text-soft">
        <FocusSignGlyph colour={note.colour} sign={note.sign} size={12} />
        <b className="text-text">{about}</b>
        note {marked.current + 1} of {marked.notes.length}
      </p>
      <div className="mt-2 break-words">
        {isSuggestion(note) && <Proposal note={note} />}
        {'words' in note && note.kind === 'note' && <WordsShow words={note.words} />}
        {'reason' in note && note.reason && <WordsShow words={note.reason} />}
      </div>
      {recording && (
        <div className="mt-2">
          <VoiceHere recording={recording} label={about} large />
        </div>
      )}
      {work && (
        <TalkAt
          copyId={work.row.copyId}
          note={note}
          talk={talk}
          settled={settled}
          open
          onOpen={() => {}}
          acts={
            <SuggestionActs
              work={work}
              note={note}
              talk={talk}
              settled={settled}
              inFile={!marked.typed.has(note.document)}
            />
          }
        />
      )}
    </article>
  );
}

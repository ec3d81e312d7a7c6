import { type HandBackShape, isSuggestion, type MarginMark, recordingOf, type Work } from '@jotmark/core';
import { useState } from 'react';
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
import { SuggestionActs } from './SuggestionActs.tsx';
import { ToThinkAbout } from './ToThinkAbout.tsx';
import type { MarkedCopyNow } from './useMarkedCopy.ts';

interface Props {
  /** Null: a teacher looks at it as its student would. */
  readonly work: Work | null;
  readonly handBack: HandBackShape;
  readonly marked: MarkedCopyNow;
  readonly over: React.ComponentProps<typeof MarkedPages>['over'];
}

/** A copy that came back, on a telephone: the words first, then one note at a time with its place above it, then where one stands. */
export function NoteByNote({ work, handBack, marked, over }: Props) {
  const { notes, current, goTo, setActive } = marked;
  const [end, setEnd] = useState(notes.length === 0);
  const note = end ? undefined : notes[current];
  const at = note ? current : end ? notes.length : -1;
  const go = (to: number) => {
    setEnd(to >= notes.length);
    if (to < 0 || to >= notes.length) setActive(null);
    else goTo(notes[to]!);
  };
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <Progress marked={marked} at={at} />
      {note ? (
        <>
          <div className="flex h-[44dvh] flex-col border-b border-line-strong">
            <MarkedPages
              handBack={handBack}
              scroller={marked.scroller}
              active={marked.active}
              look={NO_MARGIN}
              over={over}
              className="px-2 py-3"
              nearer={1.8}
              onActive={(id) => {
                const to = notes.findIndex((n) => n.id === id);
                if (to >= 0) go(to);
              }}
            />
          </div>
          <NoteRead work={work} note={note} marked={marked} />
        </>
      ) : (
        <div className="flex-1 bg-raised p-5">
          {end ? (
            <>
              <ToThinkAbout copyId={work?.row.copyId ?? null} handBack={handBack} said={marked.said} />
              <BackFoot work={work} handBack={handBack} closed={marked.closed} />
            </>
          ) : (
            <BackHead handBack={handBack} />
          )}
        </div>
      )}
      <nav className="sticky bottom-0 z-30 flex border-t border-line bg-raised" aria-label="Notes">
        <Step
          words={at <= 0 ? 'First words' : `Note ${at}`}
          side="before"
          off={at < 0}
          onStep={() => go(at - 1)}
        />
        <Step
          words={at + 1 < notes.length ? `Note ${at + 2}` : snapshotEnd(handBack)}
          side="next"
          off={at >= notes.length}
          onStep={() => go(at + 1)}
        />
      </nav>
    </main>
  );
}

/** What stands behind the last note. */
const snapshotEnd = ({ snapshot }: HandBackShape): string =>
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

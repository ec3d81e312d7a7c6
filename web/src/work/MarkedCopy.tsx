import type { CopyId, HandBackShape, Work } from '@jotmark/core';
import { useEffect, useMemo } from 'react';
import { useSaidHere } from '../conversation/SaidHere.tsx';
import { TalkAt } from '../conversation/TalkAt.tsx';
import { isSettled } from '../conversation/talk.ts';
import { PHONE, useMedia } from '../frame/useMedia.ts';
import { type MarginLook, PLAIN_MARGIN } from '../margin/margin-look.ts';
import { VoicesContext } from '../voice/playing.ts';
import { StageContext } from '../voice/talk-stage.ts';
import { useTalkPlayed } from '../voice/useTalkPlayed.ts';
import { BackFoot } from './BackFoot.tsx';
import { BackHead } from './BackHead.tsx';
import { MarkedPages } from './MarkedPages.tsx';
import { NoteByNote } from './NoteByNote.tsx';
import { SuggestionActs } from './SuggestionActs.tsx';
import { ToThinkAbout } from './ToThinkAbout.tsx';
import { useHeard } from './useHeard.ts';
import { type MarkedCopyNow, useMarkedCopy } from './useMarkedCopy.ts';
import { YourTurn } from './YourTurn.tsx';

interface Props {
  readonly copyId: CopyId;
  /** Null: a teacher looks at it as its student would; nothing can be done then. */
  readonly work: Work | null;
  readonly handBack: HandBackShape;
  /** Who reads is its student, also where nothing can be done with it any more. */
  readonly mine?: boolean;
}

/** Who comes: the student whose work came back. Reads the words first, then acts on each note at its place, sees the grade last. */
export function MarkedCopy({ copyId, work, handBack, mine = work !== null }: Props) {
  const { snapshot } = handBack;
  const marked = useMarkedCopy(copyId, handBack, !mine);
  const phone = useMedia(PHONE);
  const saidHere = useSaidHere(copyId, handBack.filled);
  const look = useLook(work, marked);
  useStepKeys(marked.step);
  const talk = useTalkPlayed({
    marks: snapshot.marks,
    follow: ({ document, page, mark }) =>
      marked.scroller.current
        ?.querySelector(`[data-document="${document}"][data-page="${page}"]`)
        ?.scrollIntoView({ block: mark ? 'nearest' : 'start', inline: 'nearest' }),
  });
  const voices = useHeard(handBack, talk.onTalk, mine);
  return (
    <VoicesContext value={voices}>
      <StageContext value={talk.stage}>
        {phone ? (
          <NoteByNote work={work} mine={mine} handBack={handBack} marked={marked} over={saidHere} />
        ) : (
          <main className="flex min-h-0 flex-1 flex-col lg:h-[calc(100vh-3.1rem)] lg:flex-none lg:flex-row">
            <aside
              className="shrink-0 overflow-y-auto border-line bg-raised p-5 lg:w-[300px] lg:border-r"
              aria-label="What your teacher says"
            >
              <BackHead handBack={handBack} />
              <YourTurn marked={marked} marks={snapshot.marks} />
              <ToThinkAbout copyId={work ? copyId : null} handBack={handBack} said={marked.said} />
              <BackFoot work={work} mine={mine} handBack={handBack} closed={marked.closed} />
            </aside>
            <div className="flex min-h-[70vh] min-w-0 flex-1 flex-col">
              <MarkedPages
                handBack={handBack}
                scroller={marked.scroller}
                active={marked.active}
                look={look}
                over={saidHere}
                className="p-5"
                onActive={marked.setActive}
              />
            </div>
          </main>
        )}
      </StageContext>
    </VoicesContext>
  );
}

/** The margin beside the pages: below each note what was said and what can be done. */
function useLook(work: Work | null, { talkOf, typed, active }: MarkedCopyNow): MarginLook {
  return useMemo((): MarginLook => {
    if (!work) return PLAIN_MARGIN;
    return {
      ...PLAIN_MARGIN,
      below: (note, onOpen) => {
        const talk = talkOf(note);
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
    };
  }, [work, talkOf, typed, active]);
}

/** `n` and `b`: the next note and the one before, wherever one is on the page and not writing. */
function useStepKeys(step: (by: 1 | -1) => void): void {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || (e.key !== 'n' && e.key !== 'b')) return;
      if (e.target instanceof HTMLElement && e.target.closest('input, textarea, select, [contenteditable]'))
        return;
      e.preventDefault();
      step(e.key === 'n' ? 1 : -1);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [step]);
}

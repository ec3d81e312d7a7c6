import type { Desk } from '@jotmark/core';
import { useMemo } from 'react';
import { InAgainContext, useInAgain } from '../again/useInAgain.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { When } from '../frame/When.tsx';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { CoveredContext } from '../paper/covered.ts';
import { SpokenContext, VoicesContext, type VoicesHere } from '../voice/playing.ts';
import { StageContext } from '../voice/talk-stage.ts';
import { GhostsHere } from '../words/ghosts.ts';
import { DeskBar } from './DeskBar.tsx';
import { DeskPaper } from './DeskPaper.tsx';
import { LeftOfPaper, RightOfPaper } from './DeskSides.tsx';
import { keysOf } from './desk-keys.ts';
import { NotesHere } from './NoteTools.tsx';
import { useDesk } from './useDesk.ts';
import { useDeskKeys } from './useDeskKeys.ts';

const DrawRegion = onDemand(() => import('./DrawRegion.tsx').then((m) => m.DrawRegion));
const GoneCopy = onDemand(() => import('./GoneCopy.tsx').then((m) => m.GoneCopy));
const StillOpen = onDemand(() => import('./StillOpen.tsx').then((m) => m.StillOpen));
const KeySheet = onDemand(() => import('./KeySheet.tsx').then((m) => m.KeySheet));

/** One copy on the desk: the bar above, the paper in the middle, what lies on both sides of it. */
export function DeskView({ desk, keeper }: { desk: Desk; keeper: SheetKeeper }) {
  const d = useDesk(desk, keeper);
  useDeskKeys(keysOf(d));
  const { paper, place } = d;
  const crumbs = useMemo(
    () => [
      { text: 'Today', to: '/' },
      { text: desk.assignment.title, to: `/piles/${desk.assignment.id}` },
      { text: `${desk.student.given} ${desk.student.family}` },
    ],
    [desk],
  );
  const grade = d.stands.sheet.slip.grade.value;
  const { heard, handedBack } = desk;
  const { writes } = d.marks;
  const { onTalk, stage } = d.marks.talk;
  const voices = useMemo(
    (): VoicesHere => ({
      heard: new Map(heard.map((h) => [h.file, h])),
      tells: handedBack ? 'that-it-was-heard' : 'nothing',
      onTalk,
      busy: () => writes.current(),
    }),
    [heard, handedBack, onTalk, writes],
  );
  const again = useInAgain({
    desk,
    keeper,
    pages: paper.pages,
    texts: paper.texts,
    settled: paper.ready,
    sheet: d.stands.sheet,
  });
  const speak = d.voice.does.onNote;
  const graded = d.desk.assignment.most !== null;
  const notes = useMemo(() => ({ ...d.notes, speak, graded }), [d.notes, speak, graded]);
  return (
    <>
      <DeskBar
        crumbs={crumbs}
        keeper={keeper}
        typing={d.words.typing}
        fixed={d.stands.fixed}
        turned={d.turning.can}
        where={
          paper.ready
            ? `page ${paper.pageNow + 1} of ${paper.pages.length} · ${Math.round(paper.zoom * 100)} %`
            : ''
        }
        first={!place.before}
        last={!place.next}
        twoSides={d.twoSides}
        layout={d.layout}
        lay={d.lay}
        does={d.does}
      />
      <VoicesContext value={voices}>
        <StageContext value={stage}>
          <SpokenContext value={d.marks.spoken}>
            <GhostsHere value={d.phrases.Ghosts}>
              <NotesHere value={notes}>
                <InAgainContext value={again.again ? again : null}>
                  <CoveredContext value={d.names.covered}>
                    <div className="flex min-h-0 flex-1">
                      <LeftOfPaper d={d} />
                      <DeskPaper d={d} />
                      <RightOfPaper d={d} />
                    </div>
                  </CoveredContext>
                </InAgainContext>
              </NotesHere>
            </GhostsHere>
          </SpokenContext>
        </StageContext>
      </VoicesContext>
      <p className="sr-only" role="status">
        {grade !== null && `Grade ${d.scoring.say(grade)}`} handed in <When at={desk.handIn.handedInAt} />
      </p>
      {d.scoring.drawing && (
        <DrawRegion d={d} question={d.scoring.drawing} onDone={() => d.scoring.onDraw(null)} />
      )}
      {d.gone && <GoneCopy d={d} gone={d.gone} />}
      {desk.openUntil !== null && !d.gone && <StillOpen d={d} until={desk.openUntil} />}
      {d.keySheet && <KeySheet onClose={d.closeKeys} />}
    </>
  );
}

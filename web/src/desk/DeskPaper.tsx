import { type ChangeId, changesBackTo, inkOf, type Mark, type MarkId, markOfDrawn } from '@jotmark/core';
import { type DragEvent, use } from 'react';
import { InAgainContext } from '../again/useInAgain.ts';
import { PHRASE_DRAG } from '../bank/phrase-drag.ts';
import { FindBar } from '../beside/FindBar.tsx';
import { PastBar } from '../beside/PastBar.tsx';
import { onDemand } from '../frame/on-demand.tsx';
import { MarkedPageStack } from '../margin/MarkedPageStack.tsx';
import { Clashes } from '../marks/Clashes.tsx';
import { newId } from '../outbox/new-id.ts';
import { Enclosures } from '../paper/Enclosures.tsx';
import { DeskTray } from '../pens/DeskTray.tsx';
import { OverPage } from '../picked/OverPage.tsx';
import { useRecorder } from '../voice/useRecorder.ts';
import { drawnUnder } from './at-pointer.ts';
import { NamesBar } from './NamesBar.tsx';
import { NotReady } from './NotReady.tsx';
import type { DeskNow } from './useDesk.ts';

/** Only where there is a film; only while one talks. */
const DeskFilm = onDemand(() => import('./DeskFilm.tsx').then((m) => m.DeskFilm));
const RecordingBar = onDemand(() => import('../voice/RecordingBar.tsx').then((m) => m.RecordingBar));
/** Only of a copy that came in again. */
const AgainOver = onDemand(() => import('../again/AgainOver.tsx').then((m) => m.AgainOver), { quiet: true });

const NO_MARKS: readonly Mark[] = [];
const TRAY_SIDE = { left: 'items-start', middle: 'items-center', right: 'items-end' } as const;

/** The middle of the desk: the paper, what lies over it while it is marked, and the tray at its foot. */
export function DeskPaper({ d }: { d: DeskNow }) {
  const { layout, stands, keeper, paper, hand, finding } = d;
  return (
    <main
      className={`relative min-w-0 ${layout.dark ? 'bg-dark-table' : ''} ${layout.only === 'slip' ? 'hidden' : ''}`}
      style={{ flex: `${100 - layout.sizes.beside} 1 0` }}
    >
      {stands.looksBack && (
        <PastBar
          handInId={d.desk.handIn.id}
          onShow={(then) => stands.lookBack(then ?? 'now')}
          onGoBack={(then) => {
            stands.lookBack('closed');
            keeper.do(changesBackTo(keeper.view.sheet, then, () => newId<ChangeId>()));
          }}
          onClose={() => stands.lookBack('closed')}
        />
      )}
      <Clashes
        clashes={stands.clashes}
        sheet={stands.standing}
        onSettle={(clash, choice) => keeper.settle(clash, choice)}
      />
      {paper.ready && <NamesBar names={d.names} />}
      {paper.ready ? (
        <>
          <div
            ref={paper.scroller}
            data-scroller
            tabIndex={0}
            role="region"
            aria-label="Pages of the copy"
            onDragOver={(e) => e.dataTransfer.types.includes(PHRASE_DRAG) && e.preventDefault()}
            onDrop={(e) => dropPhrase(d, e)}
            className="absolute inset-0 isolate touch-none overflow-auto px-5 pt-4 pb-28 select-none"
          >
            <Enclosures
              documents={d.desk.documents}
              film={(document) => <DeskFilm d={d} document={document} />}
            />
            {paper.measured && <Pages d={d} />}
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
                paper.scroller.current?.focus({ preventScroll: true });
              }}
            />
          )}
          <canvas ref={hand.liveCanvas} className="pointer-events-none absolute top-0 left-0 size-full" />
          {d.paperSeen && <Tray d={d} />}
        </>
      ) : (
        <>
          <NotReady
            stack={paper.stack}
            documents={d.desk.documents}
            film={(document) => <DeskFilm d={d} document={document} />}
          />
          {d.paperSeen && <Tray d={d} />}
        </>
      )}
    </main>
  );
}

function WhileRecording() {
  return useRecorder('phase') === 'idle' ? null : <RecordingBar />;
}

/** A phrase that was dragged onto the page: about the word it was dropped on, or the spot. */
function dropPhrase(d: DeskNow, e: DragEvent<HTMLDivElement>): void {
  const phrase = d.phrases.bank.phrases.find((p) => p.id === e.dataTransfer.getData(PHRASE_DRAG));
  const drawn = phrase && drawnUnder(d.paper, e.target as Element, e.clientX, e.clientY);
  if (!phrase || !drawn || d.stands.fixed) return;
  e.preventDefault();
  const mark = markOfDrawn(drawn, d.phrases.penOf(phrase), newId<MarkId>(), Date.now());
  if (mark?.kind === 'note') d.phrases.does.putPhrase(mark, phrase);
}

function Tray({ d }: { d: DeskNow }) {
  const { trayHand } = d;
  const hasFilm = d.desk.documents.some((doc) => doc.shows === 'film' || doc.shows === 'sound');
  if (d.stands.fixed || !trayHand) return null;
  return (
    <div
      className={`@container pointer-events-none absolute inset-x-3 bottom-3 flex flex-col gap-2 [&>*]:pointer-events-auto ${TRAY_SIDE[trayHand.trays.side]}`}
    >
      <WhileRecording />
      {(d.paper.ready || hasFilm) && <DeskTray hand={trayHand}>{d.voice.button}</DeskTray>}
    </div>
  );
}

function Pages({ d }: { d: DeskNow }) {
  const { paper, marks, hand, finding } = d;
  const { hold, beingWritten } = marks;
  const again = use(InAgainContext);
  const { fixed } = d.stands;
  return (
    <MarkedPageStack
      pages={paper.pages}
      zoom={paper.zoom}
      byPage={marks.byPage}
      texts={paper.texts}
      picked={marks.picked}
      wordsOn={(i) => hand.cursor.boxesOn(i) ?? finding.onPage(i).here}
      foundOn={(i) => finding.onPage(i).others}
      active={marks.inMargin}
      look={d.look}
      editing={hold.editing}
      onActivate={d.does.onActivate}
      over={(page, view) => {
        const here = fixed || hold.editing ? NO_MARKS : marks.picked;
        const said = again ? (
          <>
            {d.saidHere(page, view)}
            <AgainOver again={again} page={page} view={view} text={paper.texts[page.index] ?? null} />
          </>
        ) : (
          d.saidHere(page, view)
        );
        if (here.length === 0 && !beingWritten) return said;
        return (
          <>
            {said}
            <OverPage
              page={page}
              view={view}
              written={beingWritten}
              picked={here}
              pens={hand.pensAtKeys}
              does={{
                onWords: (mark, said) => d.words.note.type(mark.id, said),
                onLeave: hold.letGo,
                onDrag: hand.host.drag,
                onResize: hand.host.move,
                onPen: hold.changePen,
                onCopy: hold.copy,
                onDouble: hold.double,
                onKeep: inkOf(marks.picked) && (() => d.phrases.keepInk(marks.picked)),
                onRemove: () => hold.takeAway(marks.picked),
              }}
            />
          </>
        );
      }}
    />
  );
}

import { STUDENT_TRAY } from '@jotmark/core';
import { SheetStack } from '../fields/SheetStack.tsx';
import { onDemand } from '../frame/on-demand.tsx';
import { Waiting } from '../frame/states.tsx';
import { Clashes } from '../marks/Clashes.tsx';
import { PenTray } from '../pens/PenTray.tsx';
import { OwnNotes } from '../writing/OwnNotes.tsx';
import type { OpenCopyNow } from './useOpenCopy.ts';

const STUDENT_PENS = STUDENT_TRAY.map((pen, i) => ({ key: String(i + 1), pen }));

/** The editor is a library of its own, loaded where there is something long to write. */
const LongEditor = onDemand(() => import('../writing/LongEditor.tsx').then((m) => m.LongEditor), {
  until: () => <Waiting what="your pages to write on" />,
});

/** The pages of a copy to write on, with the pens at their foot. */
export function CopyPages({ c }: { c: OpenCopyNow }) {
  const { copy, hand, answers, kept, keeper, readOnly } = c;
  return (
    <div className="relative min-h-0 min-w-0 flex-1">
      <Clashes
        clashes={kept.clashes}
        sheet={kept.sheet}
        questionName={(q) => `question ${copy.numbers.get(q) ?? ''}`}
        onSettle={(clash, choice) => keeper.settle(clash, choice)}
      />
      {copy.ready ? (
        <>
          <div
            ref={hand.scroller}
            data-scroller
            onPaste={(e) => {
              // A text that grows counts for itself.
              if (!(e.target as HTMLElement).closest('.lined'))
                answers.onPaste(e.clipboardData.getData('text').length);
            }}
            tabIndex={-1}
            role="region"
            aria-label="Pages of your copy"
            className={`absolute inset-0 touch-none overflow-auto px-3 pt-4 sm:px-5 ${c.active && c.phone ? 'pb-72' : 'pb-28'}`}
          >
            {hand.measured && (
              <SheetStack
                pages={copy.pages}
                zoom={hand.zoom}
                byPage={hand.byPage}
                picked={hand.picked}
                questions={copy.byPage}
                numbers={copy.numbers}
                pins={c.pins}
                over={(page, view) => (
                  <>
                    {c.saidHere(page, view)}
                    <OwnNotes
                      marks={
                        hand.byPage[
                          copy.pages.findIndex((p) => p.document === page.document && p.page === page.page)
                        ] ?? []
                      }
                      view={view}
                      keeper={keeper}
                      readOnly={readOnly}
                      open={hand.note}
                      onOpen={hand.setNote}
                    />
                  </>
                )}
                long={(question, number) => (
                  <LongEditor
                    keeper={keeper}
                    personId={c.personId}
                    copyId={c.work.row.copyId}
                    question={question}
                    number={number}
                    zoom={hand.zoom}
                    narrow={c.phone}
                    readOnly={readOnly}
                    writers={c.writing.writers}
                    onFocus={c.onFocus}
                    onWords={c.writing.onWords}
                    onPending={c.writing.onPending}
                  />
                )}
                answerAt={c.answerAt}
                {...(!readOnly && { onType: answers.onType })}
                onFocus={c.onFocus}
              />
            )}
          </div>
          <canvas ref={hand.liveCanvas} className="pointer-events-none absolute top-0 left-0 size-full" />
          {!readOnly && !copy.onlyLong && !(c.phone && c.active) && (
            <div className="pointer-events-none absolute inset-x-0 bottom-3 flex justify-center [&>*]:pointer-events-auto">
              <PenTray
                pens={STUDENT_PENS}
                taken={String(hand.taken + 1)}
                onTake={(key) => hand.takePen(Number(key) - 1)}
              />
            </div>
          )}
        </>
      ) : (
        <Waiting what="your pages" />
      )}
    </div>
  );
}

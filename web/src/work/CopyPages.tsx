import { STUDENT_TRAY } from '@jotmark/core';
import { SheetStack } from '../fields/SheetStack.tsx';
import { Waiting } from '../frame/states.tsx';
import { Clashes } from '../marks/Clashes.tsx';
import { PenTray } from '../pens/PenTray.tsx';
import type { OpenCopyNow } from './useOpenCopy.ts';

const STUDENT_PENS = STUDENT_TRAY.map((pen, i) => ({ key: String(i + 1), pen }));

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
            onPaste={(e) => answers.onPaste(e.clipboardData.getData('text').length)}
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
                readOnly={readOnly}
                pins={c.pins}
                over={c.saidHere}
                answerAt={c.answerAt}
                onType={answers.onType}
                onFocus={c.onFocus}
              />
            )}
          </div>
          <canvas ref={hand.liveCanvas} className="pointer-events-none absolute top-0 left-0 size-full" />
          {!readOnly && !(c.phone && c.active) && (
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

import { useId } from 'react';
import { NowOrLater } from '../frame/NowOrLater.tsx';
import type { HandBackPlan } from './useHandBackPlan.ts';

/** When copies go back, and how. What most evenings leave alone lies folded. */
export function HowFields({ plan, graded }: { plan: HandBackPlan; graded: boolean }) {
  const { how, change } = plan;
  const id = useId();
  return (
    <div className="mt-4 space-y-3 border-t border-line pt-4">
      <WhenFields plan={plan} />
      <div>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-action"
            checked={how.tell}
            onChange={(e) => change({ tell: e.target.checked })}
          />
          Tell students
        </label>
        {how.tell && (
          <input
            className="field mt-1"
            aria-label="A sentence to tell them"
            placeholder="A sentence of your own, if you like"
            maxLength={300}
            value={how.sentence}
            onChange={(e) => change({ sentence: e.target.value })}
          />
        )}
      </div>
      <details>
        <summary className="cursor-pointer text-action">
          More: unfinished, words for all, a question …
        </summary>
        <div className="mt-2 space-y-3">
          <label className="flex items-start gap-2">
            <input
              type="checkbox"
              className="mt-1 size-4 accent-action"
              checked={how.unfinished}
              onChange={(e) => change({ unfinished: e.target.checked, gradeAfter: false })}
            />
            <span>
              As unfinished
              <span className="block text-sm text-soft">
                Words and marks now, no points and no grade. You mark on, and hand back again when you are
                finished.
              </span>
            </span>
          </label>
          {graded && !how.unfinished && (
            <label className="flex items-start gap-2">
              <input
                type="checkbox"
                className="mt-1 size-4 accent-action"
                checked={how.gradeAfter}
                onChange={(e) => change({ gradeAfter: e.target.checked })}
              />
              <span>
                Grade after reading
                <span className="block text-sm text-soft">
                  Who sees the grade first often reads no further. It shows when all notes were opened.
                </span>
              </span>
            </label>
          )}
          <div>
            <label htmlFor={`${id}-reflect`}>A question to think about</label>
            <input
              id={`${id}-reflect`}
              className="field mt-1"
              placeholder="What will you do first next time?"
              maxLength={500}
              value={how.reflect}
              onChange={(e) => change({ reflect: e.target.value })}
            />
          </div>
          <div>
            <label htmlFor={`${id}-cover`}>A message to each of them</label>
            <textarea
              id={`${id}-cover`}
              className="field mt-1 min-h-16"
              maxLength={4000}
              value={how.cover}
              onChange={(e) => change({ cover: e.target.value })}
            />
          </div>
        </div>
      </details>
    </div>
  );
}

function WhenFields({ plan }: { plan: HandBackPlan }) {
  const { later, setLater, wall, setWall, at } = plan;
  return (
    <div>
      <NowOrLater
        words={{ now: 'Now', later: 'At a set time', time: 'When they go back' }}
        later={later}
        onLater={setLater}
        wall={wall}
        onWall={setWall}
        at={at}
      />
      {plan.tooFar && <p className="mt-1 text-sm text-caution">At most a year ahead.</p>}
      {later && (
        <p className="mt-1 text-sm text-soft">
          What is marked by then goes back; until then you can mark on, or cancel it in the pile.
        </p>
      )}
    </div>
  );
}

import type { Work } from '@jotmark/core';
import { When } from '../frame/When.tsx';
import { RoundsRead } from '../scores/RoundsRead.tsx';
import { WordsShow } from '../words/WordsShow.tsx';

/** How the teacher sees the work while it is still being done: where it stands, without a grade. One goes on working. */
export function Midway({ midway }: { midway: NonNullable<Work['midway']> }) {
  const { snapshot, at } = midway;
  const { scored } = snapshot;
  return (
    <section className="rounded-lg border border-action bg-raised p-4" aria-label="Midway">
      <h2 className="font-bold">Midway</h2>
      <p className="text-sm text-soft">
        {snapshot.markedBy}, <When at={at} />. You can still change everything.
      </p>
      {snapshot.closing && (
        <div className="mt-2 font-hand text-[19px] leading-7 break-words text-garnet">
          <WordsShow words={snapshot.closing} />
        </div>
      )}
      {scored?.rubric && (
        <div className="mt-3">
          <RoundsRead
            name={scored.rubric.name}
            criteria={scored.rubric.criteria}
            rounds={scored.rounds}
            graded={false}
          />
        </div>
      )}
    </section>
  );
}

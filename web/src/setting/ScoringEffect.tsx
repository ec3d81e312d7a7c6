import {
  type AssignmentId,
  formatGrade,
  type GradeChange,
  type Scale,
  type ScoringEdit,
} from '@jotmark/core';
import { useEffect, useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { plural } from '../time/words.ts';

/** How long a change rests before its effect is asked for. */
const REST_MS = 350;

export interface EffectNow {
  readonly changes: readonly GradeChange[];
  readonly busy: boolean;
  readonly error: unknown;
}

/** Which grades this would change: computed by the server as if it were kept, and not kept. */
export function useEffectOf(assignmentId: AssignmentId, edit: ScoringEdit): EffectNow {
  const [now, setNow] = useState<EffectNow>({ changes: [], busy: false, error: null });
  const first = useRef(edit);
  useEffect(() => {
    if (edit === first.current) return;
    setNow((old) => ({ ...old, busy: true }));
    const over = new AbortController();
    const clock = setTimeout(async () => {
      try {
        const { changes } = await call('tryScoring', {
          params: { assignmentId },
          body: edit,
          signal: over.signal,
        });
        setNow({ changes, busy: false, error: null });
      } catch (error) {
        if (!over.signal.aborted) setNow({ changes: [], busy: false, error });
      }
    }, REST_MS);
    return () => {
      clearTimeout(clock);
      over.abort();
    };
  }, [assignmentId, edit]);
  return now;
}

export function ScoringEffect({
  effect,
  most,
  scale,
}: {
  effect: EffectNow;
  most: number | null;
  scale: Scale;
}) {
  const { changes, busy, error } = effect;
  const say = (value: number | null) => (value === null ? 'none' : formatGrade(value, most ?? value, scale));
  return (
    <section className="rounded border border-line p-3 text-sm" aria-label="What it changes" aria-busy={busy}>
      {error !== null ? (
        <p role="alert" className="text-caution">
          {sentenceOf(error)}
        </p>
      ) : changes.length === 0 ? (
        <p className="text-soft">
          {busy ? 'Looking which grades it changes …' : 'No computed grade changes.'}
        </p>
      ) : (
        <>
          <p className="font-semibold">
            {plural(changes.length, 'computed grade changes', 'computed grades change')}; what was handed back
            stays.
          </p>
          <ul className="mt-1 grid max-h-36 grid-cols-2 gap-x-6 overflow-auto tabular">
            {changes.map((c) => (
              <li key={c.copyId} className="flex gap-2">
                <span className="min-w-0 flex-1 truncate">
                  {c.student.given} {c.student.family}
                </span>
                <span>
                  {say(c.from)} → <b>{say(c.to)}</b>
                  {c.typed && ' (typed over)'}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

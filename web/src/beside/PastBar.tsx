import {
  applyAll,
  type Change,
  EMPTY_SHEET,
  formatPoints,
  type HandInId,
  isMarginMark,
  type Sheet,
  standingMarks,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { off } from '../frame/off.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { useKeys } from '../frame/useKeys.ts';
import { describeChange } from '../marks/describe-change.ts';
import { plural } from '../time/words.ts';

interface Props {
  readonly handInId: HandInId;
  /** Shows the marking as it stood; null: as it is now. */
  onShow(past: Sheet | null): void;
  onGoBack(past: Sheet): void;
  onClose(): void;
}

/** Goes back through a marking step by step: the paper shows how it stood, and it can be made so again. */
export function PastBar({ handInId, onShow, onGoBack, onClose }: Props) {
  const log = useQuery({
    queryKey: keys.markingLog(handInId),
    queryFn: () => allChanges(handInId),
    gcTime: 0,
    staleTime: 0,
  });
  useKeys([{ keys: 'Escape', does: onClose, inFields: true }]);
  return (
    <section
      aria-label="Earlier versions"
      className="absolute inset-x-3 bottom-3 z-20 mx-auto max-w-2xl rounded-lg border border-line bg-raised p-4 shadow-lg"
    >
      {log.error ? (
        <Trouble error={log.error} again={() => log.refetch()} />
      ) : log.data ? (
        <Steps changes={log.data} onShow={onShow} onGoBack={onGoBack} onClose={onClose} />
      ) : (
        <Waiting what="all versions of the marking" />
      )}
    </section>
  );
}

function Steps({
  changes,
  onShow,
  onGoBack,
  onClose,
}: { changes: readonly Change[] } & Omit<Props, 'handInId'>) {
  const [at, setAt] = useState(changes.length);
  const past = useMemo(() => applyAll(EMPTY_SHEET, changes.slice(0, at)), [changes, at]);
  const marks = standingMarks(past);
  const notes = marks.filter(isMarginMark).length;
  const { grade, done } = past.slip;
  const last = changes[at - 1];
  const isNow = at === changes.length;
  const to = (step: number) => {
    setAt(step);
    onShow(step === changes.length ? null : applyAll(EMPTY_SHEET, changes.slice(0, step)));
  };
  const says = [
    plural(marks.length, 'mark', 'marks'),
    plural(notes, 'note', 'notes'),
    grade.value === null ? 'no grade' : `grade ${formatPoints(grade.value)}`,
    done.value && 'marked',
  ].filter(Boolean);
  return (
    <>
      <label className="block">
        <span className="font-bold">
          {isNow ? 'As it is now' : `After ${at} of ${plural(changes.length, 'step', 'steps')}`}
        </span>
        <span className="ml-3 text-sm text-soft">{says.join(', ')}</span>
        <input
          type="range"
          className="mt-2 block w-full accent-action"
          aria-label="Version of the marking"
          aria-valuetext={`${at} of ${changes.length}: ${last ? describeChange(last) : 'nothing yet'}`}
          min={0}
          max={changes.length}
          value={at}
          onChange={(e) => to(Number(e.target.value))}
        />
      </label>
      <p className="mt-1 min-h-5 truncate text-sm text-soft">
        {last ? `the step: ${describeChange(last)}` : 'nothing yet'}
      </p>
      <div className="mt-3 flex gap-2">
        <button
          type="button"
          className="act"
          {...off(isNow && 'This is how it stands now. Pull the slider back first.')}
          onClick={() => onGoBack(past)}
        >
          Restore this version
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Back to now
        </button>
      </div>
    </>
  );
}

async function allChanges(handInId: HandInId): Promise<Change[]> {
  const out: Change[] = [];
  for (let after = 0; ; ) {
    const { seq, changes } = await call('changesSince', { params: { handInId }, query: { after } });
    if (changes.length === 0) return out;
    out.push(...changes);
    after = seq;
  }
}

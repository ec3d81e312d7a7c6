import { useEffect, useRef, useState } from 'react';
import { useHere } from '../frame/session.tsx';
import { devices } from '../voice/devices.ts';
import { DEAF, type Deaf, dictate } from '../voice/dictation.ts';

interface Props {
  /** Words that were heard and are settled: they go where the cursor is. */
  onSay(words: string): void;
  onEnd(): void;
}

/** Writes down what is said for as long as it is open, where the browser can; where it cannot it says so. */
export function DictateTool({ onSay, onEnd }: Props) {
  const { standIns } = useHere().session;
  const [heard, setHeard] = useState('');
  const [deaf, setDeaf] = useState<Deaf | null>(null);
  const [standIn, setStandIn] = useState(false);
  const newest = useRef(onSay);
  newest.current = onSay;
  useEffect(() => {
    let over = false;
    let stop = () => {};
    devices(standIns).then((from) => {
      if (over) return;
      setStandIn(from.standIn);
      stop = dictate(from, {
        interim: setHeard,
        final: (words) => newest.current(words),
        deaf: setDeaf,
      });
    });
    return () => {
      over = true;
      stop();
    };
  }, [standIns]);
  return (
    <div
      className="mt-1 flex items-start gap-2 rounded bg-tray p-1.5 text-[13px]"
      role="group"
      aria-label="Dictation"
    >
      {deaf ? (
        <p role="alert" className="min-w-0 flex-1 text-caution">
          {DEAF[deaf]}
        </p>
      ) : (
        <p className="min-w-0 flex-1 text-soft" aria-live="polite">
          {heard ||
            (standIn
              ? 'Listening to the stand-in …'
              : 'Listening … Some browsers send what you say to their maker to write it down.')}
        </p>
      )}
      <button type="button" className="shrink-0 text-action hover:underline" onClick={onEnd}>
        {deaf ? 'Close' : 'Done'}
      </button>
    </div>
  );
}

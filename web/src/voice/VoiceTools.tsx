import type { Recording } from '@jotmark/core';
import { useState } from 'react';
import { onDemand } from '../frame/on-demand.tsx';
import { useRecorderStanding } from './useRecorder.ts';

const CaptionsField = onDemand(() => import('./CaptionsField.tsx').then((m) => m.CaptionsField));

interface Props {
  /** What is said now; null: nothing yet. */
  readonly recording: Recording | null;
  /** Records, in place of what is said now. */
  onRecord(clip: boolean): void;
  /** Other captions; null: the recording goes. */
  onChange(recording: Recording | null): void;
  /** Where it says what is recorded: the key for it. */
  readonly keyName: string;
}

const TOOL = 'min-h-6 rounded px-1 hover:bg-action-wash hover:text-action disabled:opacity-50';

/** What is done with a recording beside hearing it: over again, its words, away with it. */
export function VoiceTools({ recording, onRecord, onChange, keyName }: Props) {
  const { phase } = useRecorderStanding();
  const [writing, setWriting] = useState(false);
  // The recorder itself says how it is stopped.
  if (phase === 'recording') return null;
  return (
    <>
      <button type="button" className={TOOL} disabled={phase !== 'idle'} onClick={() => onRecord(false)}>
        {recording ? 'Record again' : 'Record'} <span className="key">{keyName}</span>
      </button>
      {!recording && (
        <button type="button" className={TOOL} disabled={phase !== 'idle'} onClick={() => onRecord(true)}>
          Clip
        </button>
      )}
      {recording && (
        <>
          <button type="button" aria-expanded={writing} className={TOOL} onClick={() => setWriting(!writing)}>
            {recording.captions.length ? 'Correct its text' : 'Write its text'}
          </button>
          <button type="button" className={TOOL} onClick={() => onChange(null)}>
            Delete recording
          </button>
        </>
      )}
      {recording && writing && (
        <CaptionsField
          recording={recording}
          onDone={(changed) => {
            setWriting(false);
            if (changed) onChange(changed);
          }}
        />
      )}
    </>
  );
}

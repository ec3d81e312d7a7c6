import { captionsOf, captionText, MOST_CAPTION_LETTERS, type Recording } from '@jotmark/core';
import { useState } from 'react';
import { useRecorderStanding } from './useRecorder.ts';

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

const TOOL = 'rounded px-1 hover:bg-action-wash hover:text-action disabled:opacity-50';

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

/** The words of a recording as text, one caption a line. */
function CaptionsField({
  recording,
  onDone,
}: {
  recording: Recording;
  onDone(changed: Recording | null): void;
}) {
  const before = captionText(recording.captions);
  const [text, setText] = useState(before);
  const done = () =>
    onDone(
      text === before ? null : { ...recording, captions: captionsOf(text, recording.ms, recording.captions) },
    );
  return (
    <div className="mt-1 w-full">
      <textarea
        ref={(el) => {
          if (el && !el.dataset.had) {
            el.dataset.had = 'yes';
            el.focus();
          }
        }}
        aria-label="Text of the recording"
        className="field min-h-24 w-full text-[14px] text-text"
        placeholder="What is said, a sentence a line. Students who cannot hear read it."
        maxLength={MOST_CAPTION_LETTERS}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape' || (e.key === 'Enter' && (e.ctrlKey || e.metaKey))) {
            e.preventDefault();
            done();
          }
        }}
        onBlur={done}
      />
    </div>
  );
}

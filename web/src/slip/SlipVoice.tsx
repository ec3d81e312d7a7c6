import type { Recording } from '@jotmark/core';
import { VoiceHere } from '../voice/VoiceHere.tsx';
import { VoiceTools } from '../voice/VoiceTools.tsx';

interface Props {
  /** What is said about the whole copy; null: nothing yet. */
  readonly recording: Recording | null;
  /** It can be recorded, done over and taken away. */
  readonly open: boolean;
  onRecord(clip: boolean): void;
  onChange(recording: Recording | null): void;
}

/** What is said about the whole copy, below the closing words. */
export function SlipVoice({ recording, open, onRecord, onChange }: Props) {
  if (!recording && !open) return null;
  return (
    <div className="mt-2">
      {recording && <VoiceHere recording={recording} label="Voice note about the whole copy" />}
      {open && (
        <div
          role="group"
          aria-label="Voice note about the whole copy"
          className="mt-1 flex flex-wrap items-center gap-x-1 text-[13px] text-soft"
        >
          <VoiceTools recording={recording} keyName="Shift V" onRecord={onRecord} onChange={onChange} />
        </div>
      )}
    </div>
  );
}

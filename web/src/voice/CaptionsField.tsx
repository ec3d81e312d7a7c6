import { captionsOf, captionText, MOST_CAPTION_LETTERS, type Recording } from '@jotmark/core';
import { useState } from 'react';

/** The words of a recording as text, one caption a line. */
export function CaptionsField({
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

import { MOST_OF_A_NOTE } from '@jotmark/core';
import { useEffect, useRef, useState } from 'react';

/** The words of a note about what is selected in the text. */
export function NoteForm({
  words: before,
  onKeep,
  onDelete,
  onClose,
}: {
  words: string;
  onKeep(words: string): void;
  onDelete(): void;
  onClose(): void;
}) {
  const [words, setWords] = useState(before);
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => field.current?.focus(), []);
  return (
    <div className="flex w-full flex-wrap items-end gap-2 py-1">
      <textarea
        ref={field}
        aria-label="Words of your note"
        className="field min-h-16 basis-full"
        placeholder="What do you want to say about these words?"
        maxLength={MOST_OF_A_NOTE}
        value={words}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && onClose()}
      />
      <button type="button" className="act" disabled={!words.trim()} onClick={() => onKeep(words.trim())}>
        Keep the note
      </button>
      {before && (
        <button type="button" className="quiet" onClick={onDelete}>
          Delete the note
        </button>
      )}
      <button type="button" className="quiet" onClick={onClose}>
        Cancel
      </button>
    </div>
  );
}

import { MESSAGE_LIMIT } from '@jotmark/core';
import { type ReactNode, useRef, useState } from 'react';
import { WordsField } from '../words/WordsField.tsx';

interface Props {
  readonly label: string;
  readonly placeholder: string;
  onSay(words: string): void;
  /** What else can be done here, beside sending. */
  readonly acts?: ReactNode;
}

/** A small field for a message at a place, with its button as soon as there is something to send. Escape leaves it; no key of it is heard by what lies round it. */
export function MessageField({ label, placeholder, onSay, acts }: Props) {
  const field = useRef<HTMLTextAreaElement | null>(null);
  const [words, setWords] = useState('');
  const send = () => {
    if (!words.trim()) return;
    onSay(words.trim());
    setWords('');
  };
  return (
    <div className="mt-1">
      <WordsField
        field={field}
        label={label}
        className="field !min-h-8 w-full !px-2 !py-1 text-[13px]"
        placeholder={placeholder}
        most={MESSAGE_LIMIT}
        value={words}
        onValue={setWords}
        onSend={send}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape') e.currentTarget.blur();
        }}
      />
      <div className="mt-1 flex flex-wrap gap-1.5">
        {words.trim() && (
          <button type="button" className="quiet !min-h-7 !px-2 !py-0.5 text-[13px]" onClick={send}>
            Send
          </button>
        )}
        {acts}
      </div>
    </div>
  );
}

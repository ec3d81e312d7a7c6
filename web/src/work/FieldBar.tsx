import { choose, chosenOf, type Question } from '@jotmark/core';
import { ChevronLeft, ChevronRight, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { useTyped } from '../fields/useTyped.ts';
import { IconButton } from '../frame/IconButton.tsx';

interface Props {
  readonly question: Question;
  readonly number: string;
  readonly value: string;
  readonly first: boolean;
  readonly last: boolean;
  onType(question: Question, value: string): void;
  onMove(by: 1 | -1): void;
  onClose(): void;
}

/** On a telephone a field on the page is too small: the answer in hand is written here, large, above the keyboard, or chosen. */
export function FieldBar({ question, number, value: kept, first, last, onType, onMove, onClose }: Props) {
  const [value, setTyped] = useTyped(kept);
  const typed = (text: string) => {
    const next = ['paragraph', 'choice'].includes(question.answer.kind) ? text : text.replace(/\n/g, '');
    setTyped(next);
    onType(question, next);
  };
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    field.current?.focus();
    document.querySelector(`[data-question="${question.id}"]`)?.scrollIntoView({ block: 'center' });
  }, [question.id]);
  const unit = question.answer.kind === 'number' ? ` in ${question.answer.unit}` : '';
  return (
    <div
      className="fixed inset-x-0 bottom-0 z-40 border-t border-line bg-tray p-3 shadow-lg"
      data-own-pointer
    >
      <div className="mb-2 flex items-center gap-2">
        <label htmlFor="answer-large" className="flex-1 font-bold">
          Answer to {number}
          {unit}
        </label>
        <IconButton
          large
          label="Previous answer"
          disabled={first}
          onClick={() => onMove(-1)}
          icon={ChevronLeft}
        />
        <IconButton large label="Next answer" disabled={last} onClick={() => onMove(1)} icon={ChevronRight} />
        <IconButton large label="Back to the page" onClick={onClose} icon={X} />
      </div>
      {question.answer.kind === 'choice' ? (
        <Options
          question={question}
          number={number}
          options={question.answer.options}
          value={value}
          onTake={typed}
        />
      ) : (
        <textarea
          ref={field}
          id="answer-large"
          rows={question.answer.kind === 'paragraph' ? 3 : 1}
          className="field text-[17px]"
          value={value}
          inputMode={question.answer.kind === 'number' ? 'decimal' : 'text'}
          maxLength={6000}
          onChange={(e) => typed(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== 'Enter' || question.answer.kind === 'paragraph') return;
            e.preventDefault();
            if (last) onClose();
            else onMove(1);
          }}
        />
      )}
    </div>
  );
}

/** What can be chosen, each as large as a finger. A chosen one can be let go again. */
function Options({
  question,
  number,
  options,
  value,
  onTake,
}: {
  question: Question;
  number: string;
  options: readonly string[];
  value: string;
  onTake(value: string): void;
}) {
  const chosen = chosenOf(value);
  const several = question.answer.kind === 'choice' && question.answer.several;
  return (
    <div
      id="answer-large"
      role="group"
      aria-label={`Choices of ${number}`}
      className="max-h-[50dvh] space-y-1 overflow-y-auto"
    >
      {options.map((option) => (
        <button
          key={option}
          type="button"
          aria-pressed={chosen.includes(option)}
          className={`flex min-h-11 w-full items-center gap-3 rounded-lg border px-3 text-left text-[17px] ${chosen.includes(option) ? 'border-action bg-action-wash font-semibold' : 'border-line bg-raised'}`}
          onClick={() => onTake(choose(question, value, option))}
        >
          <span
            aria-hidden="true"
            className={`size-5 shrink-0 border-2 border-action ${several ? 'rounded' : 'rounded-full'} ${chosen.includes(option) ? 'bg-action' : ''}`}
          />
          {option}
        </button>
      ))}
    </div>
  );
}

import {
  type Box,
  choose,
  chosenOf,
  fitAnswer,
  INSET,
  measureSet,
  type Question,
  setFormulas,
  startSize,
} from '@jotmark/core';
import { type KeyboardEvent, memo, useMemo, useState } from 'react';
import { PHONE, useMedia } from '../frame/useMedia.ts';
import { formulasFor, useLooks } from '../paper/looks.ts';
import { measureText } from '../paper/measure.ts';
import { FormedAnswer } from './FormedAnswer.tsx';
import { useTyped } from './useTyped.ts';

export interface FieldProps {
  readonly question: Question;
  /** "2a". */
  readonly number: string;
  readonly value: string;
  /** Where it lies on the page, in CSS pixels. */
  readonly place: Box;
  readonly zoom: number;
  readonly readOnly: boolean;
  onType(question: Question, value: string): void;
  onFocus(question: Question): void;
}

const MOST_LETTERS = 6000;

/** One answer, typed or chosen right in its place on the page. It tells when its box is full; nothing typed is lost. */
export const AnswerField = memo(function AnswerField(p: FieldProps) {
  const { question, place } = p;
  const phone = useMedia(PHONE);
  const style = { left: place[0], top: place[1], width: place[2] - place[0], height: place[3] - place[1] };
  if (question.answer.kind === 'choice')
    return (
      <div className="absolute overflow-hidden rounded-[3px] bg-paper" style={style} data-own-pointer>
        <div className="size-full" inert={phone && !p.readOnly}>
          <Choice {...p} />
        </div>
        {phone && !p.readOnly && (
          // On a telephone they are chosen large: one tap anywhere here opens that.
          <button
            type="button"
            aria-label={`Answer to ${p.number}: ${chosenOf(p.value).join(', ') || 'choose'}`}
            className="absolute inset-0 min-h-6"
            onClick={() => p.onFocus(question)}
          />
        )}
      </div>
    );
  if (question.answer.kind === 'long')
    return (
      <p
        className="absolute flex items-center justify-center rounded-[3px] bg-action-wash/60 px-2 text-sm text-action"
        style={style}
      >
        Written on the lined page below
      </p>
    );
  return (
    <div className="absolute" style={style} data-own-pointer>
      <Written {...p} />
    </div>
  );
});

function Written({ question, number, value: kept, place, zoom, readOnly, onType, onFocus }: FieldProps) {
  const [value, setTyped] = useTyped(kept);
  const typed = (next: string) => {
    setTyped(next);
    onType(question, next);
  };
  const start = startSize(question);
  const [within, setWithin] = useState(false);
  useLooks();
  // While it is typed a formula stands as it is typed.
  const draw = within ? null : formulasFor(value);
  const set = useMemo(() => setFormulas(value, draw), [value, draw]);
  const fitted = useMemo(() => fitAnswer(question, set.text, measureSet(set, measureText)), [question, set]);
  const drawn = set.formulas.length > 0;
  const full = fitted.rest !== '';
  const size = fitted.size * zoom;
  const { answer } = question;
  const unit = answer.kind === 'number' ? answer.unit : '';
  const label = `Answer to ${number}${unit ? ` in ${unit}` : ''}`;
  const common = {
    'aria-label': label,
    'data-question': question.id,
    value,
    readOnly,
    maxLength: MOST_LETTERS,
    spellCheck: true,
    autoComplete: 'off',
    onFocus: () => {
      setWithin(true);
      onFocus(question);
    },
    onBlur: () => setWithin(false),
    className: `answer size-full ${full ? 'answer-full' : ''} ${drawn ? '!text-transparent' : ''}`,
    'aria-describedby': full ? `full-${question.id}` : undefined,
  } as const;
  const formed = drawn && <FormedAnswer box={question.box} zoom={zoom} fitted={fitted} set={set} />;
  const says = full && (
    <p
      id={`full-${question.id}`}
      role="status"
      className="pointer-events-none absolute top-full right-0 z-10 mt-0.5 rounded bg-raised px-2 py-0.5 text-xs text-caution shadow"
    >
      This box is full. The rest goes on an extra page; shorter may be better.
    </p>
  );
  if (answer.kind === 'paragraph')
    return (
      <>
        <textarea
          {...common}
          style={{
            fontSize: size,
            lineHeight: `${fitted.leading * zoom}px`,
            padding: `0 ${INSET * zoom}px`,
            letterSpacing: 0,
          }}
          onChange={(e) => typed(e.target.value)}
        />
        {formed}
        {says}
      </>
    );
  return (
    <>
      <input
        {...common}
        type="text"
        inputMode={answer.kind === 'number' ? 'decimal' : 'text'}
        enterKeyHint="next"
        style={{
          fontSize: size,
          lineHeight: `${Math.min(start.leading * zoom, place[3] - place[1])}px`,
          padding: `0 ${INSET * zoom}px`,
          paddingRight: unit ? `${unit.length * 0.6 + 0.6}em` : undefined,
        }}
        onChange={(e) => typed(e.target.value)}
        onKeyDown={toNextOnEnter}
      />
      {formed}
      {unit && (
        <span
          className="pointer-events-none absolute inset-y-0 right-1 flex items-center text-soft"
          style={{ fontSize: size * 0.9 }}
          aria-hidden="true"
        >
          {unit}
        </span>
      )}
      {says}
    </>
  );
}

/** Return in a line goes on to the next answer, as on a form. */
function toNextOnEnter(e: KeyboardEvent<HTMLInputElement>): void {
  if (e.key !== 'Enter' || e.nativeEvent.isComposing) return;
  e.preventDefault();
  const all = [...document.querySelectorAll<HTMLElement>('[data-question]')];
  all[all.indexOf(e.currentTarget) + 1]?.focus();
}

function Choice({ question, number, value: kept, zoom, readOnly, onType, onFocus }: FieldProps) {
  const [value, setTyped] = useTyped(kept);
  const chosen = chosenOf(value);
  if (question.answer.kind !== 'choice') return null;
  const { options, several } = question.answer;
  const take = (next: string) => {
    setTyped(next);
    onType(question, next);
  };
  return (
    <fieldset
      className="answer flex size-full flex-wrap content-center items-center gap-x-[1.2em] px-1"
      style={{ fontSize: Math.max(9, Math.min(12, 11) * zoom) }}
      disabled={readOnly}
    >
      <legend className="sr-only">Answer to {number}</legend>
      {options.map((option) => (
        <label key={option} className="flex items-center gap-[0.35em] leading-tight">
          <input
            type={several ? 'checkbox' : 'radio'}
            name={question.id}
            data-question={question.id}
            checked={chosen.includes(option)}
            onChange={() => take(choose(question, value, option))}
            // A chosen one can be let go again.
            onClick={() => !several && chosen.includes(option) && take('')}
            onFocus={() => onFocus(question)}
            className="size-[1em] accent-action"
          />
          {option}
        </label>
      ))}
    </fieldset>
  );
}

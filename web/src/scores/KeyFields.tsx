import { type AnswerKey, type AnswerKind, keyFor, readNumber } from '@jotmark/core';
import { useId, useState } from 'react';

interface Props {
  readonly answer: AnswerKind;
  /** What stands as its key; null: it has none. */
  readonly value: AnswerKey | null;
  onKey(key: AnswerKey | null): void;
}

/** What an answer should be. From it points are offered while one marks, never given by themselves; students never see it. */
export function KeyFields({ answer, value, onKey }: Props) {
  const kind = keyFor(answer);
  if (kind === null) return null;
  return (
    <div className="rounded bg-margin p-2">
      <p className="text-sm font-semibold">Key</p>
      {kind === 'wordings' && (
        <Wordings
          key={JSON.stringify(value)}
          value={value?.of === 'wordings' ? value.accepted : []}
          onKey={onKey}
        />
      )}
      {kind === 'number' && (
        <NumberKey
          key={JSON.stringify(value)}
          unit={answer.kind === 'number' ? answer.unit : ''}
          value={value?.of === 'number' ? value : null}
          onKey={onKey}
        />
      )}
      {kind === 'choice' && answer.kind === 'choice' && (
        <Choice answer={answer} value={value?.of === 'choice' ? value.options : []} onKey={onKey} />
      )}
      <p className="mt-1 text-[13px] text-soft">
        {value ? 'Points are offered by it; you take them.' : 'None yet: nothing is offered.'}
      </p>
    </div>
  );
}

const SMALL = 'rounded border border-line bg-paper px-1.5 py-0.5';

function Wordings({ value, onKey }: { value: readonly string[]; onKey: Props['onKey'] }) {
  const field = useId();
  const [typed, setTyped] = useState(value.join('\n'));
  const keep = () => {
    const accepted = [...new Set(typed.split('\n').map((t) => t.trim().slice(0, 400)))]
      .filter(Boolean)
      .slice(0, 40);
    if (accepted.join('\n') === value.join('\n')) return;
    onKey(accepted.length ? { of: 'wordings', accepted } : null);
  };
  return (
    <>
      <label htmlFor={field} className="text-[13px] text-soft">
        Accepted wordings, one a line; capitals and spaces do not matter
      </label>
      <textarea
        id={field}
        className="field min-h-16"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={keep}
      />
    </>
  );
}

type NumberOf = Extract<AnswerKey, { of: 'number' }>;

function NumberKey({ unit, value, onKey }: { unit: string; value: NumberOf | null; onKey: Props['onKey'] }) {
  const [typed, setTyped] = useState({ value: value?.value ?? '', tolerance: value?.tolerance ?? '0' });
  const wrong = [typed.value, typed.tolerance].some((t) => t.trim() !== '' && readNumber(t) === null);
  const keep = () => {
    if (wrong) return;
    if (typed.value.trim() === '') return value && onKey(null);
    const next: NumberOf = {
      of: 'number',
      value: typed.value.trim(),
      tolerance: typed.tolerance.trim() || '0',
      unit: value?.unit || unit,
    };
    if (JSON.stringify(next) !== JSON.stringify(value)) onKey(next);
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <input
        aria-label="The right number"
        className={`${SMALL} w-24 text-right`}
        inputMode="decimal"
        maxLength={40}
        value={typed.value}
        onChange={(e) => setTyped({ ...typed, value: e.target.value })}
        onBlur={keep}
      />
      ±
      <input
        aria-label="How far off it may be"
        className={`${SMALL} w-16 text-right`}
        inputMode="decimal"
        maxLength={40}
        value={typed.tolerance}
        onChange={(e) => setTyped({ ...typed, tolerance: e.target.value })}
        onBlur={keep}
      />
      {value?.unit || unit}
      {wrong && (
        <p role="alert" className="w-full text-sm text-caution">
          That is not a number. The last good one stays.
        </p>
      )}
    </div>
  );
}

function Choice({
  answer,
  value,
  onKey,
}: {
  answer: Extract<AnswerKind, { kind: 'choice' }>;
  value: readonly string[];
  onKey: Props['onKey'];
}) {
  const set = (option: string, on: boolean) => {
    const options = answer.several
      ? answer.options.filter((o) => (o === option ? on : value.includes(o)))
      : on
        ? [option]
        : [];
    onKey(options.length ? { of: 'choice', options } : null);
  };
  return (
    <ul>
      {answer.options.map((option) => (
        <li key={option}>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={value.includes(option)}
              onChange={(e) => set(option, e.target.checked)}
            />
            {option}
          </label>
        </li>
      ))}
    </ul>
  );
}

import {
  type AnswerKey,
  type AnswerKeys,
  type AnswerKind,
  inPageOrder,
  type Question,
  type QuestionId,
} from '@jotmark/core';
import { X } from 'lucide-react';
import { useEffect, useId, useRef, useState } from 'react';
import { PointsInput } from '../frame/PointsInput.tsx';
import { KeyFields } from '../scores/KeyFields.tsx';
import { KIND_WORDS } from './RegionLayer.tsx';
import { WordsWished } from './WordsWished.tsx';

interface Props {
  readonly questions: readonly Question[];
  readonly numbers: ReadonlyMap<QuestionId, string>;
  readonly chosen: readonly QuestionId[];
  readonly keys: AnswerKeys;
  onKey(id: QuestionId, key: AnswerKey | null): void;
  onChoose(id: QuestionId): void;
  onChange(id: QuestionId, part: Partial<Question>, merge?: string): void;
  onRemove(id: QuestionId): void;
}

/** All questions in page order: number, kind and points in one line each; the chosen one unfolds. */
export function QuestionList(p: Props) {
  return (
    <ol className="divide-y divide-line rounded-lg bg-raised shadow-sm" aria-label="Questions">
      {inPageOrder(p.questions).map((q) => (
        <Line key={q.id} {...p} question={q} open={p.chosen.length === 1 && p.chosen[0] === q.id} />
      ))}
    </ol>
  );
}

const EMPTY_OF: Readonly<Record<AnswerKind['kind'], (before: AnswerKind) => AnswerKind>> = {
  line: () => ({ kind: 'line' }),
  paragraph: () => ({ kind: 'paragraph', lines: null }),
  long: () => ({ kind: 'long', words: null }),
  number: () => ({ kind: 'number', unit: '' }),
  choice: () => ({ kind: 'choice', options: ['yes', 'no'], several: false }),
  drawing: () => ({ kind: 'drawing' }),
  none: () => ({ kind: 'none' }),
};

function Line(p: Props & { question: Question; open: boolean }) {
  const { question: q, open } = p;
  const number = p.numbers.get(q.id) ?? '';
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: 'nearest' });
  }, [open]);
  return (
    <li ref={row} className={`px-3 py-2 ${open ? 'bg-action-wash' : ''}`}>
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="w-10 shrink-0 text-left font-bold tabular hover:text-action"
          aria-label={`Choose question ${number}`}
          onClick={() => p.onChoose(q.id)}
        >
          {number}
        </button>
        <select
          aria-label={`Answer that question ${number} takes`}
          className="min-h-9 min-w-0 flex-1 rounded border border-line bg-paper px-1"
          value={q.answer.kind}
          onChange={(e) =>
            p.onChange(q.id, { answer: EMPTY_OF[e.target.value as AnswerKind['kind']](q.answer) })
          }
        >
          {Object.entries(KIND_WORDS).map(([kind, words]) => (
            <option key={kind} value={kind}>
              {words}
            </option>
          ))}
        </select>
        <PointsInput
          aria-label={`Points of question ${number}`}
          placeholder="–"
          className="w-14 rounded border border-line bg-paper px-1.5 py-1 text-right tabular aria-invalid:border-caution"
          value={q.points}
          onChange={(points) => p.onChange(q.id, { points }, `points:${q.id}`)}
        />
        <button
          type="button"
          className="grid size-8 place-items-center rounded text-soft hover:text-caution"
          aria-label={`Delete question ${number}`}
          onClick={() => p.onRemove(q.id)}
        >
          <X size={16} aria-hidden="true" />
        </button>
      </div>
      {open && <More {...p} number={number} />}
    </li>
  );
}

/** What is set less often: part of the question before, a number of its own, a unit, options. */
function More({
  question: q,
  number,
  keys,
  onKey,
  onChange,
}: Props & { question: Question; number: string }) {
  const ids = [useId(), useId(), useId()] as const;
  const { answer } = q;
  return (
    <div className="mt-2 space-y-2 pl-10 text-[15px]">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="size-4 accent-action"
            checked={q.part}
            onChange={(e) => onChange(q.id, { part: e.target.checked, label: null })}
          />
          part of the question before
        </label>
        <label htmlFor={ids[0]} className="flex items-center gap-1.5">
          number
          <input
            id={ids[0]}
            className="w-16 rounded border border-line bg-paper px-1.5 py-0.5"
            maxLength={8}
            placeholder={number}
            value={q.label ?? ''}
            onChange={(e) => onChange(q.id, { label: e.target.value.trim() || null }, `label:${q.id}`)}
          />
        </label>
      </div>
      {answer.kind === 'number' && (
        <label htmlFor={ids[1]} className="flex items-center gap-1.5">
          unit
          <input
            id={ids[1]}
            className="w-24 rounded border border-line bg-paper px-1.5 py-0.5"
            maxLength={20}
            value={answer.unit}
            onChange={(e) => onChange(q.id, { answer: { ...answer, unit: e.target.value } }, `unit:${q.id}`)}
          />
        </label>
      )}
      <KeyFields answer={answer} value={keys[q.id] ?? null} onKey={(key) => onKey(q.id, key)} />
      {answer.kind === 'choice' && <Options question={q} onChange={onChange} />}
      {answer.kind === 'long' && (
        <>
          <WordsWished
            value={answer.words}
            onChange={(words) => onChange(q.id, { answer: { ...answer, words } }, `words:${q.id}`)}
          />
          <p className="text-sm text-soft">
            Students write on lined pages of their own behind this worksheet, as many as it takes.
          </p>
        </>
      )}
      {answer.kind === 'paragraph' && answer.lines !== null && (
        <p className="text-sm text-soft">Writing sits on the {answer.lines} ruled lines of the page.</p>
      )}
    </div>
  );
}

function Options({ question: q, onChange }: { question: Question; onChange: Props['onChange'] }) {
  const field = useId();
  const answer = q.answer.kind === 'choice' ? q.answer : null;
  const [typed, setTyped] = useState(answer?.options.join('\n') ?? '');
  if (!answer) return null;
  const options = [...new Set(typed.split('\n').map((o) => o.trim()))].filter(Boolean).slice(0, 20);
  return (
    <>
      <label htmlFor={field} className="text-sm text-soft">
        Options, one a line
      </label>
      <textarea
        id={field}
        className="field min-h-20"
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          const next = [...new Set(e.target.value.split('\n').map((o) => o.trim().slice(0, 200)))]
            .filter(Boolean)
            .slice(0, 20);
          if (next.length) onChange(q.id, { answer: { ...answer, options: next } }, `options:${q.id}`);
        }}
      />
      {options.length === 0 && (
        <p role="alert" className="text-sm text-caution">
          A choice needs at least one option; the last ones stay.
        </p>
      )}
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={answer.several}
          onChange={(e) => onChange(q.id, { answer: { ...answer, several: e.target.checked } })}
        />
        several may be chosen
      </label>
    </>
  );
}

import type { PileQuestion, QuestionId } from '@jotmark/core';
import { off } from '../frame/off.ts';
import { PointsInput } from '../frame/PointsInput.tsx';
import { newId } from '../outbox/new-id.ts';

/** Questions of files that come in without a worksheet: a number, what it is about, its points. Where they stand is drawn at the desk, on one copy. */
export function PileQuestionFields({
  questions,
  onChange,
}: {
  questions: readonly PileQuestion[];
  onChange(questions: PileQuestion[]): void;
}) {
  const set = (i: number, part: Partial<PileQuestion>) =>
    onChange(questions.map((q, n) => (n === i ? { ...q, ...part } : q)));
  return (
    <div className="text-sm">
      <p className="font-semibold text-[15px]">Questions of files without a worksheet</p>
      {questions.length > 0 && (
        <ul className="mt-1 space-y-1">
          {questions.map((q, i) => (
            <li key={q.id} className="flex items-center gap-2">
              <input
                aria-label={`Number of question ${i + 1}`}
                className="field !min-h-8 !w-14 !py-0 font-bold"
                maxLength={8}
                value={q.label}
                onChange={(e) => set(i, { label: e.target.value })}
              />
              <input
                aria-label={`What question ${q.label} is about`}
                className="field !min-h-8 flex-1 !py-0"
                placeholder="what it is about"
                maxLength={120}
                value={q.name}
                onChange={(e) => set(i, { name: e.target.value })}
              />
              <PointsInput
                aria-label={`Points of question ${q.label}`}
                className="field !min-h-8 !w-16 !py-0 text-right tabular"
                value={q.points}
                onChange={(points) => set(i, { points })}
              />
              <span className="w-28 text-soft">{q.region ? 'drawn on a copy' : 'not drawn yet'}</span>
              <button
                type="button"
                className="text-action hover:underline"
                aria-label={`Delete question ${q.label}`}
                onClick={() => onChange(questions.filter((_, n) => n !== i))}
              >
                Delete
              </button>
            </li>
          ))}
        </ul>
      )}
      <button
        type="button"
        className="mt-1 text-action hover:underline"
        {...off(questions.length >= 300 && 'There are 300 questions: that is the most.')}
        onClick={() =>
          onChange([
            ...questions,
            {
              id: newId<QuestionId>(),
              label: String(questions.length + 1),
              name: '',
              points: questions.at(-1)?.points ?? 100,
              region: null,
            },
          ])
        }
      >
        Add a question
      </button>
    </div>
  );
}

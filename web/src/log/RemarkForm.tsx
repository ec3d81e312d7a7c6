import { type ClassId, momentAt, type PersonId, REMARK_WORDS, type RemarkId, wallTime } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import { WordsField } from '../words/WordsField.tsx';

interface Props {
  readonly classId: ClassId;
  /** For whom it is. */
  readonly to: readonly PersonId[];
  /** Strands that were named before. */
  readonly strands: readonly string[];
  onSaid(): void;
}

const WORKS = ['quiz', 'test', 'extra help', 'class talk', 'homework'];

/** A remark without any copy, for one or many students at once. */
export function RemarkForm({ classId, to, strands, onSaid }: Props) {
  const { session } = useHere();
  const { timeZone } = session.school;
  const today = wallTime(Date.now(), timeZone).slice(0, 10);
  const tell = useTell();
  const field = useRef<HTMLTextAreaElement | null>(null);
  const [words, setWords] = useState('');
  const [more, setMore] = useState({ day: today, work: '', strand: '' });
  const [id, setId] = useState(() => newId<RemarkId>());
  const said = useMutation({
    mutationFn: () =>
      call('addRemark', {
        params: { classId },
        body: {
          id,
          to: [...to],
          words: words.trim(),
          // Noon of the day: in every time zone it is that day.
          at: (more.day === today ? Date.now() : momentAt(`${more.day}T12:00`, timeZone)) ?? Date.now(),
          work: more.work,
          strand: more.strand,
        },
      }),
    onSuccess: () => {
      toast.success(`Said to ${plural(to.length, 'student', 'students')}; it stands in the log.`);
      setWords('');
      setId(newId<RemarkId>());
      tell('remarkSaid', { classId });
      onSaid();
    },
    // What was written stays where it is.
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const ready = words.trim() !== '' && to.length > 0 && !said.isPending;
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (ready) said.mutate();
      }}
    >
      <WordsField
        field={field}
        label="A remark"
        placeholder="A remark …"
        className="field !min-h-9"
        most={REMARK_WORDS}
        value={words}
        onValue={setWords}
        onSend={() => ready && said.mutate()}
      />
      {words.trim() && (
        <div className="mt-2 flex flex-wrap items-end gap-3 text-sm">
          <label>
            <span className="block text-soft">Day</span>
            <input
              type="date"
              className="field !min-h-8 !w-40 !py-1"
              max={today}
              value={more.day}
              onChange={(e) => setMore({ ...more, day: e.target.value || today })}
            />
          </label>
          <label>
            <span className="block text-soft">Kind of work</span>
            <input
              className="field !min-h-8 !w-36 !py-1"
              list="remark-works"
              maxLength={40}
              value={more.work}
              onChange={(e) => setMore({ ...more, work: e.target.value })}
            />
          </label>
          <label>
            <span className="block text-soft">Strand</span>
            <input
              className="field !min-h-8 !w-40 !py-1"
              list="remark-strands"
              maxLength={60}
              value={more.strand}
              onChange={(e) => setMore({ ...more, strand: e.target.value })}
            />
          </label>
          <datalist id="remark-works">
            {WORKS.map((w) => (
              <option key={w} value={w} />
            ))}
          </datalist>
          <datalist id="remark-strands">
            {strands.map((s) => (
              <option key={s} value={s} />
            ))}
          </datalist>
          <button type="submit" className="act !min-h-8 !py-1" disabled={!ready}>
            {to.length === 0
              ? 'Choose students first'
              : `Send to ${plural(to.length, 'student', 'students')}`}
          </button>
        </div>
      )}
    </form>
  );
}

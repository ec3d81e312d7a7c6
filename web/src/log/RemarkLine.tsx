import { type LogRemark, REMARK_QUOTE, REMARK_WORDS, type RemarkAnswerId } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { MessageCircle } from 'lucide-react';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { WordsShow } from '../words/WordsShow.tsx';
import { Said } from './Said.tsx';

interface Props {
  readonly entry: LogRemark;
  readonly answersFor: string | null;
  readonly onTake?: ((words: string) => void) | undefined;
  onChanged(): void;
}

/** What was said without a copy, and what was answered to it. Words of it that are selected are quoted. */
export function RemarkLine({ entry: e, answersFor, onTake, onChanged }: Props) {
  const [answering, setAnswering] = useState<{ quote: string } | null>(null);
  const [asking, setAsking] = useState(false);
  const remove = useMutation({
    mutationFn: () => call('removeRemark', { params: { remarkId: e.id } }),
    onSuccess: () => {
      toast('The remark is withdrawn from every log.');
      onChanged();
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const begin = () => {
    const selected = document.getSelection()?.toString().trim() ?? '';
    setAnswering({ quote: e.words.includes(selected) ? selected.slice(0, REMARK_QUOTE) : '' });
  };
  return (
    <>
      <div className="flex items-start gap-2">
        <MessageCircle size={16} className="mt-0.5 text-action" aria-hidden="true" />
        <div>
          <b>Remark</b>
          <span className="block text-sm text-soft">{[e.work, e.strand].filter(Boolean).join(' · ')}</span>
        </div>
      </div>
      <div>
        <Said words={e.words} onTake={onTake}>
          <div className="font-hand text-[17px] leading-snug text-garnet">
            <WordsShow words={e.words} />
          </div>
        </Said>
        {e.answers.map((a) => (
          <p key={a.id} className="mt-1 border-l-2 border-line pl-2 text-sm">
            <b className="font-semibold">{a.mine ? 'I' : a.by}:</b>{' '}
            {a.quote && <q className="text-soft">{a.quote}</q>} {a.words}
          </p>
        ))}
        {answersFor !== null &&
          (answering ? (
            <AnswerForm
              remark={e}
              personId={answersFor}
              quote={answering.quote}
              onEnd={(sent) => {
                setAnswering(null);
                if (sent) onChanged();
              }}
            />
          ) : (
            <button
              type="button"
              className="mt-1 text-sm text-action underline"
              onMouseDown={(ev) => ev.preventDefault()}
              onClick={begin}
            >
              Answer
            </button>
          ))}
      </div>
      <div className="text-sm text-soft">
        {e.mine ? 'by me' : `by ${e.by}`}
        {e.mine && !asking && (
          <button type="button" className="ml-3 text-action underline" onClick={() => setAsking(true)}>
            Withdraw
          </button>
        )}
        {asking && (
          <span className="mt-1 block">
            It goes from every log it stands in, with what was answered.{' '}
            <button
              type="button"
              className="text-action underline disabled:text-soft"
              disabled={remove.isPending}
              onClick={() => remove.mutate()}
            >
              Withdraw the remark
            </button>{' '}
            <button type="button" className="text-action underline" onClick={() => setAsking(false)}>
              Cancel
            </button>
          </span>
        )}
      </div>
    </>
  );
}

function AnswerForm({
  remark,
  personId,
  quote,
  onEnd,
}: {
  remark: LogRemark;
  personId: string;
  quote: string;
  onEnd(sent: boolean): void;
}) {
  const [words, setWords] = useState('');
  const [id] = useState(() => newId<RemarkAnswerId>());
  const send = useMutation({
    mutationFn: () =>
      call('answerRemark', {
        params: { remarkId: remark.id },
        body: { id, words, quote, personId: personId as never },
      }),
    onSuccess: () => onEnd(true),
    // The words stay where they are.
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  return (
    <form
      className="mt-1"
      onSubmit={(e) => {
        e.preventDefault();
        if (words.trim()) send.mutate();
      }}
    >
      {quote && <p className="text-sm text-soft">To: “{quote}”</p>}
      <textarea
        className="field"
        rows={2}
        maxLength={REMARK_WORDS}
        aria-label="Answer to this remark"
        // biome-ignore lint/a11y/noAutofocus: it was just asked for
        autoFocus
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <p className="mt-1 flex gap-3">
        <button type="submit" className="act !min-h-8 !py-1" disabled={!words.trim() || send.isPending}>
          Send the answer
        </button>
        <button type="button" className="quiet !min-h-8 !py-1" onClick={() => onEnd(false)}>
          Cancel
        </button>
      </p>
    </form>
  );
}

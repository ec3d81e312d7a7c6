import { MESSAGE_LIMIT, type QuestionId, type Work } from '@jotmark/core';
import { useRef, useState } from 'react';
import { DialogShell } from '../frame/DialogShell.tsx';
import { useHere } from '../frame/session.tsx';
import { placeOfCover, useKeptText } from '../outbox/kept-text.ts';
import { plural } from '../time/words.ts';
import { WordsField } from '../words/WordsField.tsx';

interface Props {
  readonly open: boolean;
  readonly work: Work;
  readonly unanswered: readonly {
    readonly id: QuestionId;
    readonly number: string;
    readonly why: 'empty' | 'not-a-number';
  }[];
  onGo(question: QuestionId): void;
  onCancel(): void;
  onHandIn(cover: string): Promise<void>;
}

/** The look before handing in: what has no answer yet, what goes along, and a word to the teacher. */
export function HandInDialog({ open, work, unanswered, onGo, onCancel, onHandIn }: Props) {
  const { session } = useHere();
  const field = useRef<HTMLTextAreaElement | null>(null);
  const [cover, setCover] = useKeptText(placeOfCover(session.person!.id, work.row.copyId));
  const [busy, setBusy] = useState(false);
  const nothing = work.handsIn && work.sheets.length === 0 && work.files.length === 0;
  const empty = unanswered.filter((u) => u.why === 'empty');
  const odd = unanswered.filter((u) => u.why === 'not-a-number');
  const again = work.row.place === 'handed-back';
  const go = async () => {
    setBusy(true);
    await onHandIn(cover.trim()).finally(() => setBusy(false));
  };
  return (
    <DialogShell
      open={open}
      title={!work.handsIn ? 'Is this done?' : again ? 'Hand in again?' : 'Hand in?'}
      onClose={onCancel}
    >
      {nothing ? (
        <p className="mt-2">There is nothing to hand in yet. Add a file, a photo or a link first.</p>
      ) : (
        <p className="mt-2 text-soft">
          {work.handsIn
            ? 'Your copy goes to your teacher as it stands now. You can take it back until your teacher begins to mark.'
            : 'Your teacher sees that you have done it.'}
        </p>
      )}
      {empty.length > 0 && (
        <Pointed
          title={`${plural(empty.length, 'question has', 'questions have')} no answer yet`}
          list={empty}
          onGo={onGo}
        />
      )}
      {odd.length > 0 && <Pointed title="A number is asked for here" list={odd} onGo={onGo} />}
      {work.files.length > 0 && (
        <p className="mt-3">
          {plural(work.files.length, 'file goes', 'files go')} along:{' '}
          {work.files.map((f) => f.name).join(', ')}.
        </p>
      )}
      {work.sheets.length === 0 && work.files.length > 0 && work.files.every((f) => f.shows === 'link') && (
        <p className="mt-2 text-caution">
          Only {work.files.length === 1 ? 'a link goes' : 'links go'} along: your teacher cannot mark on a
          link, and what it shows may change. Add a file or a picture of it before you hand in.
        </p>
      )}
      {!nothing && (
        <div className="mt-4">
          <p className="text-sm text-soft">A word to your teacher (optional)</p>
          <WordsField
            field={field}
            label="A word to your teacher (optional)"
            className="field mt-1 min-h-20"
            most={MESSAGE_LIMIT}
            value={cover}
            onValue={setCover}
          />
        </div>
      )}
      <div className="mt-6 flex justify-end gap-3">
        <button type="button" className="quiet" onClick={onCancel}>
          Cancel
        </button>
        {!nothing && (
          <button type="button" className="act" disabled={busy} onClick={go}>
            {!work.handsIn
              ? 'Done'
              : again
                ? 'Hand in again'
                : empty.length
                  ? 'Hand in all the same'
                  : 'Hand in now'}
          </button>
        )}
      </div>
    </DialogShell>
  );
}

function Pointed({
  title,
  list,
  onGo,
}: {
  title: string;
  list: Props['unanswered'];
  onGo(question: QuestionId): void;
}) {
  return (
    <div className="mt-4">
      <p className="font-bold">{title}</p>
      <ul className="mt-1 flex flex-wrap gap-2">
        {list.map((u) => (
          <li key={u.id}>
            <button type="button" className="quiet !min-h-8 !py-1" onClick={() => onGo(u.id)}>
              {u.number}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

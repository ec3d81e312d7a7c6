import { type CopyId, MESSAGE_LIMIT, type MessageId, momentAt, type Pile, type PileRow } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { saveOrdered } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { off } from '../frame/off.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import { sends } from '../words/form.ts';
import { WordsField } from '../words/WordsField.tsx';

type Doing = 'write' | 'remind' | 'date' | null;

interface Act {
  work(): Promise<unknown>;
  readonly said: string;
  undo?(): Promise<unknown>;
}

/** What can be done with many copies at once, besides handing them back. */
export function ManyTools({
  pile,
  chosen,
  onDone,
}: {
  pile: Pile;
  chosen: readonly PileRow[];
  onDone(): void;
}) {
  const tell = useTell();
  const { id: assignmentId, dueAt } = pile.assignment;
  const [doing, setDoing] = useState<Doing>(null);
  // What was typed to write to them is not lost to a reminder.
  const [said, setSaid] = useState({ write: '', remind: '' });
  const kind = doing === 'remind' ? 'remind' : 'write';
  const words = said[kind];
  const setWords = (text: string) => setSaid({ ...said, [kind]: text });
  const ids = chosen.map((r) => r.copyId);
  const act = useMutation({
    mutationFn: async ({ work }: Act) => work(),
    onSuccess: (_, { said: done, undo }) => {
      toast.success(done, {
        ...(undo && {
          action: {
            label: 'Undo',
            onClick: () =>
              undo().then(
                () => tell('pileChanged', { assignmentId }),
                (error) => toast.error(sentenceOf(error)),
              ),
          },
        }),
      });
      setDoing(null);
      setSaid({ write: '', remind: '' });
      tell('pileChanged', { assignmentId });
      onDone();
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const excuse = (copyIds: readonly CopyId[], excused: boolean) =>
    call('pileTerms', { params: { assignmentId }, body: { copyIds: [...copyIds], excused } });
  const how = plural(ids.length, 'copy', 'copies');
  const say = (text: string, to: readonly CopyId[]) =>
    call('sayToMany', {
      params: { assignmentId },
      body: { words: text, to: to.map((copyId) => ({ id: newId<MessageId>(), copyId })) },
    });
  const field = useRef<HTMLTextAreaElement | null>(null);
  useEffect(() => {
    if (doing === 'write' || doing === 'remind') field.current?.focus();
  }, [doing]);
  const missing = chosen.filter((r) => r.place === 'with-student' && !r.excused);
  const to = doing === 'remind' ? missing.map((r) => r.copyId) : ids;
  const write = () => {
    if (words.trim())
      act.mutate({
        work: () => say(words.trim(), to),
        said: `${doing === 'remind' ? 'Reminded' : 'Written to'} ${plural(to.length, 'student', 'students')}.`,
      });
  };
  const excused = chosen.every((r) => r.excused);
  const small =
    'text-sm text-action underline-offset-2 hover:underline disabled:text-soft disabled:no-underline';
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 rounded bg-margin px-3 py-1.5">
      <button type="button" className={small} onClick={() => setDoing(doing === 'write' ? null : 'write')}>
        Write to them
      </button>
      <button
        type="button"
        className={small}
        {...off(missing.length === 0 && 'All chosen copies have been handed in.')}
        onClick={() => {
          const remind = `“${pile.assignment.title}” is still with you. Please hand it in, or write to me what holds you up.`;
          setSaid({ ...said, remind: said.remind || remind });
          setDoing(doing === 'remind' ? null : 'remind');
        }}
      >
        Remind {missing.length || ''} …
      </button>
      <button type="button" className={small} onClick={() => setDoing(doing === 'date' ? null : 'date')}>
        Own due date
      </button>
      <button
        type="button"
        className={small}
        onClick={() =>
          act.mutate({
            work: () => excuse(ids, !excused),
            said: excused ? `${how} no longer excused.` : `${how} excused.`,
            // Only those that become another.
            undo: () =>
              excuse(
                chosen.filter((r) => r.excused === excused).map((r) => r.copyId),
                excused,
              ),
          })
        }
      >
        {excused ? 'No longer excused' : 'Excuse'}
      </button>
      {pile.rubric && (
        <MidwayButton assignmentId={assignmentId} ids={ids} className={small} onDone={onDone} />
      )}
      <ZipButton assignmentId={assignmentId} ids={ids} className={small} />
      {(doing === 'write' || doing === 'remind') && (
        <form
          className="flex w-full items-center gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            write();
          }}
        >
          <div className="flex-1">
            <WordsField
              key={kind}
              field={field}
              label={`Message to ${plural(to.length, 'student', 'students')}`}
              className="field !min-h-8 !py-1"
              most={MESSAGE_LIMIT}
              value={words}
              onValue={setWords}
              onKeyDown={(e) => sends(e) && write()}
            />
          </div>
          <button type="submit" className="quiet !min-h-8 !py-1" disabled={!words.trim()}>
            Send
          </button>
        </form>
      )}
      {doing === 'date' && (
        <DateForm
          back={dueAt === null ? 'no date' : 'the date of the work'}
          onDate={(at) =>
            act.mutate({
              work: () => call('pileTerms', { params: { assignmentId }, body: { copyIds: ids, dueAt: at } }),
              said: at === null ? `${how} have the date of the work again.` : `${how} have another date.`,
            })
          }
        />
      )}
    </div>
  );
}

/** A due date for the chosen copies; left empty they have that of the work again. */
function DateForm({ back, onDate }: { back: string; onDate(at: number | null): void }) {
  const { session } = useHere();
  const [date, setDate] = useState('');
  return (
    <form
      className="flex w-full items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onDate(momentAt(date, session.school.timeZone));
      }}
    >
      <input
        type="datetime-local"
        aria-label="Own due date"
        className="field !min-h-8 !w-56 !py-1"
        value={date}
        onChange={(e) => setDate(e.target.value)}
      />
      <button type="submit" className="quiet !min-h-8 !py-1">
        {date ? 'Set this due date' : `Back to ${back}`}
      </button>
    </form>
  );
}

/** Releases the midway round of these copies, alone and without a grade; they stay with their students. */
function MidwayButton({
  assignmentId,
  ids,
  className,
  onDone,
}: {
  assignmentId: Pile['assignment']['id'];
  ids: readonly CopyId[];
  className: string;
  onDone(): void;
}) {
  const tell = useTell();
  const release = useMutation({
    mutationFn: () => call('releaseMidway', { params: { assignmentId }, body: { copyIds: [...ids] } }),
    onSuccess: ({ released, kept }) => {
      toast.success(
        `${plural(released.length, 'midway round', 'midway rounds')} released; these copies stay with their students.${kept.length ? ` ${kept.length} had none to release.` : ''}`,
      );
      tell('pileChanged', { assignmentId });
      onDone();
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  return (
    <button type="button" className={className} disabled={release.isPending} onClick={() => release.mutate()}>
      Release the midway round
    </button>
  );
}

/** Orders a zip of the originals and saves it when the job is done; its progress is counted. */
function ZipButton({
  assignmentId,
  ids,
  className,
}: {
  assignmentId: Pile['assignment']['id'];
  ids: readonly CopyId[];
  className: string;
}) {
  const [progress, setProgress] = useState<{ done: number; total: number } | null>(null);
  const fetchIt = async () => {
    setProgress({ done: 0, total: 0 });
    try {
      const ordered = await call('zipOriginals', { params: { assignmentId }, body: { copyIds: [...ids] } });
      await saveOrdered(ordered, setProgress);
    } catch (error) {
      toast.error(sentenceOf(error));
    } finally {
      setProgress(null);
    }
  };
  return (
    <button type="button" className={className} disabled={progress !== null} onClick={fetchIt}>
      {progress
        ? `Making the zip${progress.total ? `: ${progress.done} of ${progress.total}` : ' …'}`
        : 'Originals as zip'}
    </button>
  );
}

import { type LogBack, type LogEntry, type LogNote, logGrade } from '@jotmark/core';
import { Link } from 'react-router';
import { useHere } from '../frame/session.tsx';
import { FocusSignGlyph, PlaceGlyph } from '../look/glyphs.tsx';
import { plural } from '../time/words.ts';
import { VoiceHere } from '../voice/VoiceHere.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { RemarkLine } from './RemarkLine.tsx';
import { Said } from './Said.tsx';

interface Props {
  readonly entries: readonly LogEntry[];
  /** Where a copy is opened; null: nowhere, as for the family. */
  readonly copyAt: ((entry: LogBack) => string) | null;
  /** Takes words over into a report; left out: there is none. */
  readonly onTake?: ((words: string) => void) | undefined;
  /** Whose log it is: answers stand in it. Null: nobody answers here. */
  readonly answersFor: string | null;
  onChanged(): void;
}

/** A log in the order of time: work that went back, and what was said without any. */
export function LogLines(p: Props) {
  const { clock } = useHere();
  const day = (at: number) => clock.day(at, Date.now());
  return (
    <ol className="divide-y divide-dashed divide-line" aria-label="Feedback in order of time">
      {p.entries.map((e) => (
        <li
          key={e.of === 'work' ? `${e.copyId}/${e.handIn}` : e.id}
          className="grid gap-x-4 gap-y-1 py-3 md:grid-cols-[4.5rem_minmax(9rem,15rem)_minmax(12rem,1fr)_minmax(7rem,13rem)]"
        >
          <span className="text-sm text-soft tabular">{day(e.at)}</span>
          {e.of === 'work' ? (
            <WorkLine entry={e} copyAt={p.copyAt} onTake={p.onTake} />
          ) : (
            <RemarkLine entry={e} answersFor={p.answersFor} onTake={p.onTake} onChanged={p.onChanged} />
          )}
        </li>
      ))}
    </ol>
  );
}

function WorkLine({ entry: e, copyAt, onTake }: { entry: LogBack } & Pick<Props, 'copyAt' | 'onTake'>) {
  const done = e.notes.filter((n) => n.done).length;
  const answered = e.notes.filter((n) => n.answer);
  const grade = logGrade(e);
  return (
    <>
      <div>
        <span className="flex items-start gap-2">
          <span className="mt-0.5 text-action">
            <PlaceGlyph place={e.held ? 'marked' : 'handed-back'} size={16} />
          </span>
          {copyAt ? (
            <Link to={copyAt(e)} className="font-bold hover:text-action hover:underline">
              {e.title}
            </Link>
          ) : (
            <b>{e.title}</b>
          )}
        </span>
        <span className="block pl-6 text-sm text-soft tabular">
          {[
            e.handIn > 1 && `hand-in ${e.handIn}`,
            grade,
            ...e.levels.map((l) => `${l.criterion} ${l.stands}`),
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
      </div>
      <div>
        {e.closing && (
          <Said words={e.closing} onTake={onTake}>
            <div className="font-hand text-[17px] leading-snug text-garnet">
              <WordsShow words={e.closing} />
            </div>
          </Said>
        )}
        {e.voice && <VoiceHere recording={e.voice} label={`Recording about ${e.title}`} />}
        <Notes notes={e.notes} onTake={onTake} />
      </div>
      <div className="text-sm">
        {e.held ? (
          <span className="text-caution">held, not handed back</span>
        ) : e.notes.length ? (
          `${done} of ${plural(e.notes.length, 'note', 'notes')} dealt with`
        ) : (
          <span className="text-soft">no notes</span>
        )}
        {answered.slice(-1).map((n) => (
          <span key={n.mark} className="block text-soft">
            answered: “{n.answer}”
          </span>
        ))}
        {e.reflected && <span className="block text-soft">thought about it: “{e.reflected}”</span>}
      </div>
    </>
  );
}

/** The notes of a piece of work by what they are about, folded until one asks. */
function Notes({ notes, onTake }: { notes: readonly LogNote[]; onTake: Props['onTake'] }) {
  if (notes.length === 0) return null;
  return (
    <details>
      <summary className="flex w-fit cursor-pointer items-center gap-1.5 rounded py-1 text-sm text-soft hover:text-action">
        <span className="sr-only">{plural(notes.length, 'note', 'notes')}</span>
        {notes
          .toSorted((a, b) => ((a.focus ?? '~') < (b.focus ?? '~') ? -1 : 1))
          .map((n) => (
            <FocusSignGlyph key={n.mark} colour={n.colour} sign={n.sign} size={11} />
          ))}
        <span aria-hidden="true" className="underline underline-offset-2">
          read
        </span>
      </summary>
      <ul className="mb-1 space-y-1 text-sm">
        {notes.map((n) => (
          <li key={n.mark} className="flex items-baseline gap-2">
            <FocusSignGlyph colour={n.colour} sign={n.sign} size={10} />
            <Said words={n.words} onTake={onTake}>
              <span className={n.done ? 'text-soft' : ''}>
                {n.words || 'a voice note'}
                {n.focus && <span className="text-soft"> · {n.focus}</span>}
                {n.act && <span className="text-soft"> · {n.act}</span>}
                {n.answer && <span className="text-soft">: “{n.answer}”</span>}
              </span>
            </Said>
          </li>
        ))}
      </ul>
    </details>
  );
}

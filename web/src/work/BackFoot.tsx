import type { HandBackShape, Work } from '@jotmark/core';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { saveOrdered } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { When } from '../frame/When.tsx';
import { GradeRead } from '../scores/GradeRead.tsx';
import { RoundsRead } from '../scores/RoundsRead.tsx';
import { plural } from '../time/words.ts';
import { Task } from './Task.tsx';

interface Props {
  /** Null: a teacher looks at it as its student would. */
  readonly work: Work | null;
  /** Who reads is its student. */
  readonly mine: boolean;
  readonly handBack: HandBackShape;
  /** How many notes must still be opened before the grade shows. */
  readonly closed: number;
}

/** What is read last: where one stands and what the next level asks for, then the grade; and what comes next. */
export function BackFoot({ work, mine, handBack, closed }: Props) {
  const { snapshot } = handBack;
  return (
    <>
      {snapshot.scored?.rubric && (
        <div className="mt-6">
          <RoundsRead
            name={snapshot.scored.rubric.name}
            criteria={snapshot.scored.rubric.criteria}
            rounds={snapshot.scored.rounds}
            graded={snapshot.most !== null && handBack.closed === 0}
          />
        </div>
      )}
      {snapshot.unfinished ? null : handBack.closed === 0 ? (
        <GradeRead snapshot={snapshot} />
      ) : (
        <p className="mt-6 rounded-lg bg-margin p-4" role="status">
          <strong>Your grade</strong>{' '}
          {closed === 0
            ? 'comes in a moment.'
            : `shows when you have opened all notes. ${closed} to go: what your teacher writes helps you more than a number.`}
        </p>
      )}
      {work && (
        <>
          <div className="mt-5 space-y-2">
            <DownloadPdf handBackId={handBack.id} />
            {!snapshot.unfinished && (
              <Link to="?improve" className="quiet block w-full text-center">
                {work.row.place === 'in-again'
                  ? 'See what you handed in again'
                  : handBack.handInNumber === 0
                    ? 'Hand something in'
                    : 'Improve and hand in again'}
              </Link>
            )}
          </div>
          <EarlierBacks work={work} />
          <div className="mt-5 border-t border-line pt-4">
            <Task work={work} scored={snapshot.scored?.rubric != null} />
          </div>
        </>
      )}
      {!mine && closed > 0 && (
        <p className="mt-2 text-sm text-soft">
          Its student sees the grade once {plural(closed, 'note was', 'notes were')} opened.
        </p>
      )}
    </>
  );
}

/** How the work came back before it was improved: still there, with all that stood on it. */
function EarlierBacks({ work }: { work: Work }) {
  if (work.earlier.length === 0) return null;
  return (
    <section className="mt-5" aria-label="How it came back before">
      <h2 className="font-bold">How it came back before</h2>
      <ul className="mt-1">
        {work.earlier.map((b) => (
          <li key={b.id}>
            <Link to={`?back=${b.id}`} className="inline-block min-h-6 text-action underline">
              {b.handInNumber === 0 ? 'Before anything was handed in' : `Hand-in ${b.handInNumber}`}
            </Link>
            <span className="text-sm text-soft">
              {' '}
              came back <When at={b.at} />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Made by a job when it is first wanted; then the browser saves it. */
function DownloadPdf({ handBackId }: { handBackId: HandBackShape['id'] }) {
  const [state, setState] = useState<'idle' | 'making' | { trouble: string }>('idle');
  const fetchIt = async () => {
    setState('making');
    try {
      await saveOrdered(await call('makePdf', { params: { handBackId } }));
      setState('idle');
    } catch (error) {
      setState({
        trouble:
          error instanceof CallFailed && error.code === 'unexpected'
            ? 'The PDF could not be made. Your marked pages are all here. Try again.'
            : sentenceOf(error),
      });
    }
  };
  return (
    <>
      <button
        type="button"
        className="act flex w-full items-center justify-center gap-2"
        disabled={state === 'making'}
        onClick={fetchIt}
      >
        <Download size={18} aria-hidden="true" />{' '}
        {state === 'making' ? 'Making the PDF …' : 'PDF to keep or print'}
      </button>
      {typeof state === 'object' && (
        <p role="alert" className="text-sm text-caution">
          {state.trouble}
        </p>
      )}
    </>
  );
}

import type { DocumentState } from '@jotmark/core';
import type { ReactNode } from 'react';
import { Trouble } from '../frame/states.tsx';
import { Enclosures, originalOf } from '../paper/Enclosures.tsx';
import type { usePageList } from '../paper/page-list.ts';
import { ReadAgain } from '../paper/ReadAgain.tsx';

/** Nothing to write on: pages are still being made, cannot be, or there never are any. The slip beside it works all the same. */
export function NotReady({
  stack,
  documents,
  film,
}: {
  stack: ReturnType<typeof usePageList>;
  documents: readonly DocumentState[];
  film(document: DocumentState): ReactNode;
}) {
  if (stack.error) return <Trouble error={stack.error} />;
  const failed = stack.states.filter((d) => d.shows === 'pages' && d.reading.state === 'failed');
  if (stack.settled)
    return (
      <div className="absolute inset-0 overflow-auto p-6 pb-28">
        <Enclosures
          film={film}
          documents={
            stack.states.length
              ? [...documents.filter((d) => d.shows !== 'pages'), ...stack.states]
              : documents
          }
        />
        {documents.length === 0 && (
          <p className="mx-auto mt-24 max-w-md rounded-lg bg-raised p-6">
            There is nothing to look at: the student called this work done. Give a grade and closing words on
            the slip.
          </p>
        )}
        {failed.map((d) => (
          <p key={d.id} className="mx-auto mt-6 max-w-md rounded-lg bg-raised p-6">
            The pages of “{d.name}” cannot be read. The file is kept. You can still give a grade and closing
            words on the slip, or ask the student for another file.{' '}
            <a className="text-action underline" href={originalOf(d.id, true)} download>
              Save the file
            </a>{' '}
            <ReadAgain documentId={d.id} />
          </p>
        ))}
      </div>
    );
  const total = stack.states.reduce((n, d) => n + d.reading.total, 0);
  const done = stack.states.reduce((n, d) => n + d.reading.done, 0);
  return (
    <div role="status" className="mx-auto mt-24 w-72 text-center text-soft">
      Reading the pages{total ? `: ${done} of ${total}` : ' …'}
      <progress className="mt-3 w-full" max={total || 1} value={done} />
    </div>
  );
}

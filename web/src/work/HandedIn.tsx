import { mayTakeBack, type Work } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo, useRef } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { useSaidHere } from '../conversation/SaidHere.tsx';
import { SheetStack } from '../fields/SheetStack.tsx';
import { useHere } from '../frame/session.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { When } from '../frame/When.tsx';
import { useZoom } from '../hand/useZoom.ts';
import { aboutFile } from '../paper/about-file.ts';
import { Enclosures } from '../paper/Enclosures.tsx';
import { usePageList } from '../paper/page-list.ts';
import { useOnceRead } from '../paper/useOnceRead.ts';
import { lateWords } from '../time/words.ts';
import { crumbsOf } from './crumbs.ts';
import { Task } from './Task.tsx';

const NOTHING = { questions: [], numbers: new Map<never, string>() };

/** A copy that is with the teacher: what was handed in, when, and the way back as long as its teacher’s rule lets one. */
export function HandedIn({ work }: { work: Work }) {
  const { clock } = useHere();
  const client = useQueryClient();
  const { row } = work;
  const copyId = row.copyId;
  const now = Date.now();
  const { dueAt } = row.assignment;
  const documents = work.handIn?.documents ?? [];
  const { pages, settled } = usePageList(documents);
  useOnceRead(documents, settled, () => tell(client, 'handInRead', { copyId }));
  const ready = settled && pages.length > 0;
  const scroller = useRef<HTMLDivElement>(null);
  const { zoom, measured } = useZoom(scroller, pages, ready, 0);
  const byPage = useMemo(() => pages.map(() => []), [pages]);
  const saidHere = useSaidHere(copyId, work.handIn?.filled);
  const takeBack = useMutation({
    mutationFn: () => call('takeBack', { params: { copyId } }),
    onSuccess: (next) => {
      client.setQueryData(keys.work(copyId), next);
      tell(client, 'takenBack', {});
    },
  });
  return (
    <>
      <TopBar crumbs={crumbsOf(work)} />
      <main className="flex min-h-0 flex-1 flex-col lg:h-[calc(100vh-3.1rem)] lg:flex-none lg:flex-row">
        <aside
          className="shrink-0 overflow-y-auto border-line bg-raised p-5 lg:w-[320px] lg:border-r"
          aria-label="Handed in"
        >
          <p className="text-xl font-bold">
            {!work.handsIn ? 'Done' : row.place === 'in' ? 'Handed in' : 'Handed in again'}
          </p>
          <p className="mt-1 text-soft">
            {work.handIn && clock.moment(work.handIn.handedInAt, now)}
            {row.late > 0 && <span className="text-caution"> · {lateWords(row.late)}</span>}
          </p>
          {work.handIn?.by && (
            <p className="mt-1 text-sm text-soft">{work.handIn.by} handed it in for you.</p>
          )}
          {work.handIn?.claimedAt != null && (
            <p className="mt-1 text-sm text-soft">
              You pressed “Hand in” <When at={work.handIn.claimedAt} />, without a network; it arrived later.
            </p>
          )}
          <ul className="mt-3 space-y-1">
            {documents.map((d) => (
              <li key={d.id}>
                <span className="block truncate font-semibold">{d.name}</span>
                <span className="text-sm text-soft">{aboutFile(d)}</span>
              </li>
            ))}
          </ul>
          {work.recalled && (
            <p className="mt-4 rounded-lg bg-action-wash p-3" role="status">
              Your teacher has recalled it to look at it again (<When at={work.recalled.at} />
              ).
              {work.recalled.words && ` “${work.recalled.words}”`}
            </p>
          )}
          <p className="mt-4 text-soft">
            Your teacher has it now. You see marks and grade when everyone gets theirs back.
          </p>
          {mayTakeBack(work.takeBack, dueAt, now) ? (
            <button
              type="button"
              className="quiet mt-4 w-full"
              disabled={takeBack.isPending}
              onClick={() => takeBack.mutate()}
            >
              Take back and go on working
            </button>
          ) : (
            <p className="mt-4 text-soft">It can’t be taken back now.</p>
          )}
          {work.takeBack === 'until-due' && dueAt !== null && now < dueAt && (
            <p className="mt-1 text-sm text-soft">
              You can take it back until <When at={dueAt} />.
            </p>
          )}
          {takeBack.error && (
            <p role="alert" className="mt-2 text-caution">
              {sentenceOf(takeBack.error)}
            </p>
          )}
          <div className="mt-5 border-t border-line pt-4">
            <Task work={work} />
          </div>
        </aside>
        {documents.length > 0 && (
          <div
            ref={scroller}
            data-scroller
            tabIndex={0}
            role="region"
            aria-label="What you handed in"
            className="min-h-[60vh] min-w-0 flex-1 overflow-auto p-5"
          >
            <Enclosures documents={documents} />
            {ready && measured ? (
              <SheetStack
                pages={pages}
                zoom={zoom}
                byPage={byPage}
                picked={[]}
                questions={NOTHING.questions}
                numbers={NOTHING.numbers}
                answerAt={() => ''}
                over={saidHere}
              />
            ) : (
              !settled && <p className="mt-10 text-center text-soft">Making the pages …</p>
            )}
          </div>
        )}
      </main>
    </>
  );
}

import type { FeedbackLog } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { addressOf, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { OpenAddress } from '../frame/OpenAddress.tsx';
import { useHere } from '../frame/session.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { Making, useTakeOut } from '../frame/TakeOut.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { LogHead } from './LogHead.tsx';
import { LogLines } from './LogLines.tsx';

/** Who comes: a student who wants to know where they stand. Grades that are back, the words and the voice beside each, what comes again. */
export function OwnLogView() {
  const logs = useQuery({ queryKey: keys.ownLogs, queryFn: () => call('ownLogs') });
  const out = useTakeOut();
  const [shown, setShown] = useState(0);
  const some = (logs.data ?? []).filter((l) => l.entries.length > 0);
  const log = some[Math.min(shown, some.length - 1)];
  return (
    <>
      <TopBar crumbs={[{ text: 'My work', to: '/' }, { text: 'My feedback' }]}>
        {out.making ? (
          <Making out={out} />
        ) : (
          <button type="button" className="quiet" onClick={out.mine}>
            Save all my work
          </button>
        )}
      </TopBar>
      <main className="mx-auto max-w-6xl p-4">
        {logs.error ? (
          <Trouble error={logs.error} again={() => logs.refetch()} />
        ) : !logs.data ? (
          <Waiting what="your feedback" />
        ) : !log ? (
          <Empty title="Nothing is back yet">
            What your teachers hand back, and what they say to you, stands here.
          </Empty>
        ) : (
          <>
            {some.length > 1 && (
              <select
                aria-label="Class"
                className="mb-3 min-h-9 rounded border border-line bg-paper px-2"
                value={Math.min(shown, some.length - 1)}
                onChange={(e) => setShown(Number(e.target.value))}
              >
                {some.map((l, i) => (
                  <option key={l.className} value={i}>
                    {l.className}
                  </option>
                ))}
              </select>
            )}
            <OwnLog log={log} />
            <div className="mt-4">
              <OpenAddress
                of={`calendar ${log.classId}`}
                title="Due dates in my calendar"
                says={`An address (iCalendar) with the due dates of ${log.className} that a calendar program follows. It shows titles and dates, no grades.`}
                ask={(open) => call('calendarAddress', { body: { classId: log.classId, open } })}
                addressOf={(token) => `${location.origin}${addressOf('calendar', { token })}`}
              />
            </div>
          </>
        )}
      </main>
    </>
  );
}

function OwnLog({ log }: { log: FeedbackLog }) {
  const tell = useTell();
  const { session } = useHere();
  return (
    <div className="space-y-4">
      <LogHead entries={log.entries} name="I" />
      <section aria-label="Feedback" className="rounded-lg bg-raised p-5 shadow-sm">
        <LogLines
          entries={[...log.entries].reverse()}
          copyAt={(e) => `/work/${e.copyId}`}
          answersFor={session.person?.id ?? null}
          onChanged={() => tell('logAnswered', {})}
        />
      </section>
    </div>
  );
}

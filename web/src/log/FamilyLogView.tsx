import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useParams } from 'react-router';
import { addressOf, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { useNotIndexed } from '../frame/useNotIndexed.ts';
import { useTitle } from '../frame/useTitle.ts';
import { Emblem } from '../look/glyphs.tsx';
import { VoicesContext, type VoicesHere } from '../voice/playing.ts';
import { LogHead } from './LogHead.tsx';
import { LogLines } from './LogLines.tsx';

/** Who comes: a parent with an address from a letter. Grades that are back, the words and the voice beside each, the newest first. */
export function FamilyLogView() {
  const { token = '' } = useParams();
  const page = useQuery({
    queryKey: keys.familyLog(token),
    queryFn: () => call('familyLog', { params: { token } }),
    retry: false,
  });
  useNotIndexed();
  const voices = useMemo<VoicesHere>(
    () => ({
      heard: new Map(),
      tells: 'nothing',
      addressFor: (file, plain) => `${addressOf('familyVoice', { token, file })}${plain ? '?plain=1' : ''}`,
    }),
    [token],
  );
  const log = page.data?.log;
  useTitle(['Feedback']);
  return (
    <div className="min-h-full bg-table">
      <header className="flex min-h-12 items-center gap-3 border-b border-line bg-tray px-5">
        <Emblem />
        {log && (
          <h1 className="text-[17px] font-bold">
            {`${log.student.given} ${log.student.family}`.trim()}, {log.className}
          </h1>
        )}
        <span className="ml-auto text-soft">{page.data?.school}</span>
      </header>
      <main className="mx-auto max-w-6xl space-y-4 p-4">
        {page.error ? (
          <Trouble error={page.error} />
        ) : !log ? (
          <Waiting what="the page" />
        ) : log.entries.length === 0 ? (
          <p className="rounded-lg bg-raised p-6 shadow-sm">Nothing was handed back yet.</p>
        ) : (
          <VoicesContext value={voices}>
            <LogHead entries={log.entries} name={log.student.given} />
            <section aria-label="Feedback" className="rounded-lg bg-raised p-5 shadow-sm">
              <LogLines
                entries={[...log.entries].reverse()}
                copyAt={null}
                answersFor={null}
                onChanged={() => {}}
              />
            </section>
          </VoicesContext>
        )}
      </main>
    </div>
  );
}

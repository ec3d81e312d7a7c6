import { ACT_WORDS_OF } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { When } from '../frame/When.tsx';

/** Who changed accounts, and whose, the newest first; asked for when it is opened. */
export function SchoolActs() {
  const [open, setOpen] = useState(false);
  const acts = useQuery({ queryKey: keys.schoolActs, queryFn: () => call('schoolActs'), enabled: open });
  return (
    <details
      className="rounded-lg bg-raised p-5 shadow-sm"
      onToggle={(e) => setOpen((e.target as HTMLDetailsElement).open)}
    >
      <summary className="cursor-pointer font-bold">Who changed accounts</summary>
      {acts.error ? (
        <Trouble error={acts.error} again={() => acts.refetch()} />
      ) : !acts.data ? (
        <Waiting what="the log" />
      ) : acts.data.length === 0 ? (
        <p className="mt-2 text-soft">Nobody has yet.</p>
      ) : (
        <ul className="mt-2 max-h-96 divide-y divide-line overflow-auto text-sm">
          {acts.data.map((a, i) => (
            <li key={`${a.at} ${i}`} className="flex gap-3 py-1">
              <span className="w-32 shrink-0 text-soft tabular">
                <When at={a.at} />
              </span>
              <span>
                <b className="font-semibold">{a.by}</b> {ACT_WORDS_OF[a.act]}
                {a.about && <>: {a.about}</>}
                {a.className && <span className="text-soft"> ({a.className})</span>}
              </span>
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}

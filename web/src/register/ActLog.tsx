import { ACT_WORDS_OF, type ClassId } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { When } from '../frame/When.tsx';

/** Who looked at or changed what in a class, the newest first; asked for when it is opened. */
export function ActLog({ classId }: { classId: ClassId }) {
  const [open, setOpen] = useState(false);
  const acts = useQuery({
    queryKey: keys.acts(classId),
    queryFn: () => call('acts', { params: { classId } }),
    enabled: open,
  });
  return (
    <details
      className="rounded-lg bg-raised p-4 shadow-sm"
      onToggle={(e) => setOpen((e.target as HTMLDetailsElement).open)}
    >
      <summary className="cursor-pointer font-bold">Who looked at or changed what</summary>
      {acts.error ? (
        <Trouble error={acts.error} again={() => acts.refetch()} />
      ) : !acts.data ? (
        <Waiting what="the log of acts" />
      ) : (
        <ul className="mt-2 max-h-80 divide-y divide-line overflow-auto text-sm">
          {acts.data.map((a, i) => (
            <li key={`${a.at} ${i}`} className="flex gap-3 py-1">
              <span className="w-28 shrink-0 text-soft tabular">
                <When at={a.at} />
              </span>
              <span>
                <b className="font-semibold">{a.by}</b> {ACT_WORDS_OF[a.act]}
                {a.title && <>: “{a.title}”</>}
                {a.about && <>: {a.about}</>}
              </span>
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}

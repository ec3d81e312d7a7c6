import type { MailShape } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { addressOf, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { useHere } from '../frame/session.tsx';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';

/** Who comes: a teacher who wants to know what was written to students and families, and whether it went. */
export function PostView() {
  const mails = useQuery({ queryKey: keys.mails, queryFn: () => call('mails'), refetchInterval: 15_000 });
  const [open, setOpen] = useState<string | null>(null);
  return (
    <>
      <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'News', to: '/news' }, { text: 'Outbox' }]} />
      <main className="mx-auto max-w-3xl p-5">
        {mails.error && !mails.data ? (
          <Trouble error={mails.error} again={() => mails.refetch()} />
        ) : !mails.data ? (
          <Waiting what="the mail" />
        ) : (
          <>
            <p className="text-soft">
              {mails.data.post === 'simulated'
                ? 'No mail server is set, so this mail is not sent anywhere: here you can read what students would get.'
                : 'Mail to you and to your students, sent by the school’s mail server.'}
            </p>
            {mails.data.mails.length === 0 ? (
              <Empty title="No mail yet">When students are told something by mail, it is listed here.</Empty>
            ) : (
              <ol className="mt-3 divide-y divide-line rounded-lg bg-raised shadow-sm" aria-label="Mail">
                {mails.data.mails.map((m) => (
                  <Letter
                    key={m.id}
                    mail={m}
                    open={open === m.id}
                    onOpen={() => setOpen(open === m.id ? null : m.id)}
                  />
                ))}
              </ol>
            )}
          </>
        )}
      </main>
    </>
  );
}

function Letter({ mail: m, open, onOpen }: { mail: MailShape; open: boolean; onOpen(): void }) {
  const { clock } = useHere();
  const now = Date.now();
  const stands =
    m.sentAt !== null
      ? `sent ${clock.moment(m.sentAt, now)}`
      : m.trouble
        ? `could not be sent yet, is tried again: ${m.trouble}`
        : `goes ${clock.moment(m.notBefore, now)}`;
  return (
    <li className="px-4 py-2.5">
      <button
        type="button"
        aria-expanded={open}
        className="block w-full text-left hover:text-action"
        onClick={onOpen}
      >
        <span className="font-semibold">{m.subject}</span>
        <span className={`block text-sm ${m.trouble ? 'text-caution' : 'text-soft'}`}>
          to {m.to} · {stands}
        </span>
      </button>
      {open && (
        <div className="mt-2 rounded bg-margin p-3">
          <p className="text-sm text-soft">{m.address}</p>
          <p className="mt-2 break-words whitespace-pre-wrap">
            {m.body || 'It is written when it goes, with all that is new by then.'}
          </p>
          {m.body && (
            <a
              className="mt-2 inline-block text-action underline"
              href={addressOf('mailFile', { mailId: m.id })}
            >
              Download as .eml
            </a>
          )}
        </div>
      )}
    </li>
  );
}

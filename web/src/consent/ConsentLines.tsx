import type { ClassId, Consent } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';
import { When } from '../frame/When.tsx';

/**
 * Who comes: a teacher, told that a colleague wants one of their students in a class; or an administrator. They look at who asks for whom, and say yes or no.
 * What one has asked oneself stands here too, until it is answered. `classId`: only what is about this class.
 */
export function ConsentLines({ classId = null }: { classId?: ClassId | null }) {
  const consents = useQuery({ queryKey: keys.consents, queryFn: () => call('consents') });
  const all = (consents.data ?? []).filter((c) => classId === null || c.classId === classId);
  if (all.length === 0) return null;
  return (
    <section aria-label="Requests" className="mb-5 rounded-lg bg-raised p-5 shadow-sm">
      <h2 className="font-bold">Requests to take in a student</h2>
      {all.some((c) => !c.byStudent) && (
        <p className="text-sm text-soft">
          Who has a student in a class sees their work and can make them a new password. That is why somebody
          who has them now, or an administrator, says yes first.
        </p>
      )}
      <ul className="mt-3 divide-y divide-line">
        {all.map((c) => (
          <ConsentLine key={c.id} consent={c} />
        ))}
      </ul>
    </section>
  );
}

function ConsentLine({ consent: c }: { consent: Consent }) {
  const tell = useTell();
  const answer = useMutation({
    mutationFn: (granted: boolean) =>
      call('answerConsent', { params: { consentId: c.id }, body: { granted } }),
    onSuccess: (_, granted) =>
      toast(granted ? `${c.student} is in ${c.className} now.` : `${c.student} stays out of ${c.className}.`),
    // Somebody else may have answered meanwhile: then the line goes.
    onError: (error) => toast.error(sentenceOf(error)),
    onSettled: () => tell('peopleChanged', {}),
  });
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 py-2">
      <span className="min-w-60 flex-1">
        {c.mine ? (
          <>
            You asked for <b>{c.student}</b> in {c.className}. It waits for a teacher who has them.
          </>
        ) : c.byStudent ? (
          <>
            <b>{c.student}</b> asks to be let into {c.className}.
          </>
        ) : (
          <>
            {c.askedBy} wants to take <b>{c.student}</b> into {c.className}.
          </>
        )}
        <span className="ml-2 text-sm text-soft">
          <When at={c.askedAt} />
        </span>
      </span>
      {!c.mine && (
        <>
          <button
            type="button"
            className="act"
            disabled={answer.isPending}
            onClick={() => answer.mutate(true)}
          >
            {c.byStudent ? 'Let in' : 'Agree'}
          </button>
          <button
            type="button"
            className="quiet"
            disabled={answer.isPending}
            onClick={() => answer.mutate(false)}
          >
            Refuse
          </button>
        </>
      )}
    </li>
  );
}

import { readJoinCode } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useTell } from '../ask/stale.ts';
import { LineField } from '../frame/fields.tsx';

/** Who comes: a student with a code from the board. Types it once, sees that it waits for the teacher. */
export function JoinClass() {
  const tell = useTell();
  const [typed, setTyped] = useState('');
  const [wrong, setWrong] = useState(false);
  const waiting = useQuery({ queryKey: keys.consents, queryFn: () => call('consents') }).data ?? [];
  const code = readJoinCode(typed);
  const ask = useMutation({
    mutationFn: (known: string) => call('askToJoin', { body: { code: known } }),
    onSuccess: () => setTyped(''),
    onSettled: () => tell('peopleChanged', {}),
  });
  return (
    <section aria-label="Join a class" className="mt-10 border-t border-line pt-5">
      <h2 className="font-bold">Join a class</h2>
      <div role="status">
        {waiting.map((c) => (
          <p key={c.id} className="mt-1">
            You asked to be let into <b>{c.className}</b>. Its teacher answers.
          </p>
        ))}
        {ask.data?.state === 'here' && <p className="mt-1">You are in {ask.data.className} already.</p>}
      </div>
      <form
        className="mt-2 flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          setWrong(code === null);
          if (code) ask.mutate(code);
        }}
      >
        <LineField
          label="Code from your teacher"
          box="w-52"
          autoComplete="off"
          autoCapitalize="characters"
          spellCheck={false}
          maxLength={20}
          value={typed}
          onChange={(e) => {
            setTyped(e.target.value);
            setWrong(false);
            ask.reset();
          }}
          wrong={
            wrong
              ? 'A code has six letters or digits. Compare it with what your teacher wrote.'
              : ask.error && sentenceOf(ask.error)
          }
        />
        <button type="submit" className="quiet" disabled={ask.isPending}>
          Ask to join
        </button>
      </form>
    </section>
  );
}

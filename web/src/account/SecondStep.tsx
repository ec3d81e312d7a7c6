import type { Account } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { codePath } from '../frame/AddressCode.tsx';
import { LineField } from '../frame/fields.tsx';

/**
 * Who comes: a teacher who wants more than a password before their marks. First the password once more, then the code to photograph with the app on their phone,
 * then six digits from it, so that nobody locks themselves out with a phone that did not take it.
 */
export function SecondStep({ step, onChanged }: { step: Account['step']; onChanged(): void }) {
  const [password, setPassword] = useState('');
  const start = useMutation({ mutationFn: () => call('startStep', { body: { password } }) });
  const drop = useMutation({
    mutationFn: () => call('dropStep', { body: { password } }),
    onSuccess: () => {
      setPassword('');
      onChanged();
    },
  });
  if (!step.allowed) return null;
  const trouble = start.error ?? drop.error;
  return (
    <section aria-label="Second step" className="mt-5 rounded-lg bg-raised p-5 shadow-sm">
      <h2 className="font-bold">A second step when you sign in</h2>
      <p className="text-sm text-soft">
        {step.on
          ? 'It is on: after your password you are asked for six digits from the app on your phone.'
          : 'After your password you type six digits that an app on your phone shows. Any app for such codes does.'}
        {step.required && ' Your school asks for it.'}
      </p>
      {start.data && !step.on ? (
        <Confirm {...start.data} onDone={onChanged} />
      ) : (
        <form
          className="mt-3 flex flex-wrap items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            (step.on ? drop : start).mutate();
          }}
        >
          <LineField
            label="Your password once more"
            type="password"
            autoComplete="current-password"
            required
            maxLength={200}
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
          <button type="submit" className="quiet" disabled={start.isPending || drop.isPending}>
            {step.on ? 'Turn it off' : 'Set it up'}
          </button>
        </form>
      )}
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(trouble)}
        </p>
      )}
    </section>
  );
}

function Confirm({ seed, address, onDone }: { seed: string; address: string; onDone(): void }) {
  const [code, setCode] = useState('');
  const confirm = useMutation({
    mutationFn: () => call('confirmStep', { body: { code } }),
    onSuccess: onDone,
  });
  const { path, size } = codePath(address);
  return (
    <div className="mt-3">
      <svg viewBox={`0 0 ${size} ${size}`} className="w-44 bg-white" role="img" shapeRendering="crispEdges">
        <title>The code for your app</title>
        <path d={path} fill="#000" />
      </svg>
      <p className="mt-2 text-sm text-soft">Photograph this with the app, or type this into it:</p>
      <p className="font-mono break-all">{seed.match(/.{1,4}/g)?.join(' ')}</p>
      <form
        className="mt-3 flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          confirm.mutate();
        }}
      >
        <LineField
          label="The six digits it shows now"
          inputMode="numeric"
          autoComplete="one-time-code"
          required
          pattern="\d{6}"
          maxLength={6}
          value={code}
          onChange={(e) => setCode(e.target.value.trim())}
        />
        <button type="submit" className="act" disabled={confirm.isPending}>
          Turn it on
        </button>
      </form>
      {confirm.error && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(confirm.error)}
        </p>
      )}
    </div>
  );
}

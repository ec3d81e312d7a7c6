import type { ReactNode } from 'react';
import { sentenceOf } from '../api/sentences.ts';

/** Keeps the place quiet while something loads; says so after a moment, for those who do not see it. */
export function Waiting({ what }: { what: string }) {
  return (
    <div role="status" className="grid h-full min-h-40 place-items-center text-soft">
      Getting {what} …
    </div>
  );
}

export function Trouble({ error, again }: { error: unknown; again?: () => void }) {
  return (
    <div role="alert" className="mx-auto mt-16 max-w-xl rounded-lg bg-raised p-8 shadow-sm">
      <p className="text-lg">{sentenceOf(error)}</p>
      {again && (
        <button type="button" className="act mt-5" onClick={again}>
          Try again
        </button>
      )}
    </div>
  );
}

/** What would be here, and the first step. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="mx-auto mt-20 max-w-md text-center">
      <p className="text-xl font-bold">{title}</p>
      <p className="mt-2 text-soft">{children}</p>
    </div>
  );
}

import type { Credentials } from '@jotmark/core';
import { Printer } from 'lucide-react';

/** First passwords, shown once: a slip for each student, to print and cut. They are kept nowhere. */
export function PasswordSheet({
  className,
  people,
  onClose,
}: {
  className: string;
  people: readonly Credentials[];
  onClose(): void;
}) {
  return (
    <section aria-label="First passwords">
      <div className="mb-4 flex flex-wrap items-center gap-3 print:hidden">
        <p className="min-w-60 flex-1">
          <strong>First passwords, class {className}.</strong> They are shown only now and kept nowhere: print
          this sheet before you leave it. If one is lost, make a new one in the register.
        </p>
        <button type="button" className="act flex items-center gap-2" onClick={() => window.print()}>
          <Printer size={18} aria-hidden="true" /> Print the sheet
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Done
        </button>
      </div>
      <ul className="grid grid-cols-1 gap-px border border-dashed border-line-strong bg-line-strong sm:grid-cols-2">
        {people.map((p) => (
          <li key={p.personId} className="break-inside-avoid bg-paper p-4">
            <p className="font-bold">
              {p.given} {p.family}
            </p>
            <p className="text-sm text-soft">
              {location.host}, class {className}
            </p>
            <dl className="mt-1 grid grid-cols-[5rem_1fr]">
              <dt className="text-soft">Login</dt>
              <dd className="font-mono">{p.login}</dd>
              <dt className="text-soft">Password</dt>
              <dd className="font-mono">{p.password}</dd>
            </dl>
          </li>
        ))}
      </ul>
    </section>
  );
}

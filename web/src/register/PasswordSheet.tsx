import type { Credentials } from '@jotmark/core';
import { Printer } from 'lucide-react';
import { useState } from 'react';
import { Ask } from '../frame/Ask.tsx';
import { LoginSlip } from '../frame/LoginSlip.tsx';

/** First passwords, shown once: a slip for each student, to print and cut. They are kept nowhere. */
export function PasswordSheet({
  className,
  people,
  next,
  onClose,
}: {
  className: string;
  people: readonly Credentials[];
  /** Leads to what comes next, while these stay here; null: nothing in particular. */
  readonly next: { readonly does: string; go(): void } | null;
  onClose(): void;
}) {
  const [printed, setPrinted] = useState(false);
  const [asking, setAsking] = useState(false);
  const print = () => {
    setPrinted(true);
    window.print();
  };
  return (
    <section aria-label="First passwords">
      <div className="mb-4 flex flex-wrap items-center gap-3 print:hidden">
        <p className="min-w-60 flex-1">
          <strong>First passwords, class {className}.</strong> They are kept nowhere but in this tab: print
          the sheet, or save it as a PDF from the print window, before you press Done. If one is lost, make a
          new one in the register.
        </p>
        <button type="button" className="act flex items-center gap-2" onClick={print}>
          <Printer size={18} aria-hidden="true" /> Print the sheet
        </button>
        {next && (
          <button type="button" className="quiet" onClick={next.go}>
            {next.does}
          </button>
        )}
        <button type="button" className="quiet" onClick={() => (printed ? onClose() : setAsking(true))}>
          Done
        </button>
      </div>
      <Ask
        open={asking}
        title="Not printed yet. Leave all the same?"
        does="Leave without printing"
        onDo={onClose}
        onClose={() => setAsking(false)}
      >
        <p>
          {people.length === 1 ? 'This password' : `These ${people.length} passwords`} cannot be shown again.
          Whoever has none gets a new one in the register.
        </p>
      </Ask>
      <ul className="grid grid-cols-1 gap-px border border-dashed border-line-strong bg-line-strong sm:grid-cols-2">
        {people.map((p) => (
          <li key={p.personId} className="break-inside-avoid bg-paper p-4">
            <p className="font-bold">
              {p.given} {p.family}
            </p>
            <p className="text-sm text-soft">
              {location.host}, class {className}
            </p>
            <LoginSlip login={p.login} password={p.password} />
          </li>
        ))}
      </ul>
    </section>
  );
}

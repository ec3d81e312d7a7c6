import { X } from 'lucide-react';
import { IconButton } from '../frame/IconButton.tsx';
import { useHere } from '../frame/session.tsx';
import { useKeptText } from '../outbox/kept-text.ts';

const QUICK: readonly (readonly [keys: string, does: string])[] = [
  ['1 … 0', 'takes the pen with that number'],
  ['5', 'a note: click the place, type, Esc'],
  ['2', 'a tick: click as often as you like'],
  ['g', 'the grade; Enter keeps it'],
  ['Ctrl ↵', 'marked, and the next copy'],
];

/** For who marks a first copy here: the five things that make it quick. Once dismissed they never come again in this browser. */
export function FirstCopy() {
  const { session } = useHere();
  const [seen, see] = useKeptText(`jotmark.first-copy.${session.person?.id}`);
  if (seen) return null;
  return (
    <section aria-label="Five things that make it quick" className="relative mt-5 rounded-lg bg-margin p-3">
      <h3 className="text-sm font-bold">Five things that make it quick</h3>
      <div className="absolute top-1 right-1">
        <IconButton label="Dismiss these hints" icon={X} onClick={() => see('seen')} />
      </div>
      <dl className="mt-1.5 grid grid-cols-[auto_1fr] gap-x-2.5 gap-y-1 text-sm">
        {QUICK.map(([keys, does]) => (
          <div key={keys} className="contents">
            <dt>
              <span className="key">{keys}</span>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-1.5 text-xs text-soft">All keys: press ?</p>
    </section>
  );
}

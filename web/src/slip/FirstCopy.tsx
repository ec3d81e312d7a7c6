import { PEN_KEYS, type Pen } from '@jotmark/core';
import { X } from 'lucide-react';
import { IconButton } from '../frame/IconButton.tsx';
import { useHere } from '../frame/session.tsx';
import { useKeptText } from '../outbox/kept-text.ts';

/** What makes it quick, with the keys that these pens have; a kind of pen that is not among them is left out. */
function quick(pens: readonly Pen[]): (readonly [keys: string, does: string])[] {
  const keyOf = (tool: Pen['tool']) => PEN_KEYS[pens.findIndex((p) => p.tool === tool)];
  const [note, stamp] = [keyOf('note'), keyOf('stamp')];
  return [
    ['1 … 0', 'takes the pen with that number'],
    ...(note ? [[note, 'a note: click the place and type'] as const] : []),
    ...(stamp ? [[stamp, 'a stamp: click as often as you like'] as const] : []),
    ['g', 'the grade; Enter keeps it'],
    ['Ctrl ↵', 'marked, and the next copy'],
  ];
}

/** For who marks a first copy here: what makes it quick. Once dismissed they never come again in this browser. */
export function FirstCopy({ pens }: { pens: readonly Pen[] }) {
  const { session } = useHere();
  const [seen, see] = useKeptText(`jotmark.first-copy.${session.person?.id}`);
  if (seen) return null;
  return (
    <section aria-label="What makes it quick" className="relative mt-5 rounded-lg bg-margin p-3">
      <h3 className="text-sm font-bold">What makes it quick</h3>
      <div className="absolute top-1 right-1">
        <IconButton label="Dismiss these hints" icon={X} onClick={() => see('seen')} />
      </div>
      <dl className="mt-1.5 grid grid-cols-[auto_1fr] gap-x-2.5 gap-y-1 text-sm">
        {quick(pens).map(([keys, does]) => (
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

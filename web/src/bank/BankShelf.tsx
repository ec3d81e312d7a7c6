import { groupsOf, type Phrase, plainWords } from '@jotmark/core';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { IconButton } from '../frame/IconButton.tsx';
import { HandInk } from './HandInk.tsx';
import { PHRASE_DRAG } from './phrase-drag.ts';
import type { Bank } from './useBank.ts';

interface Props {
  readonly bank: Bank;
  /** The phrase the pen puts next. */
  readonly armed: Phrase | null;
  onArm(phrase: Phrase): void;
  onClose(): void;
}

/** The bank beside the copy: a phrase is tapped and then put where the pen goes next, or dragged onto the page. */
export function BankShelf({ bank, armed, onArm, onClose }: Props) {
  const [typed, setTyped] = useState('');
  const found = useMemo(
    () =>
      typed.trim()
        ? bank.index.find(typed, { focus: null, now: Date.now() }, 200)
        : [...bank.phrases].sort((a, b) => Number(b.key !== null) - Number(a.key !== null)),
    [bank.index, bank.phrases, typed],
  );
  const groups = typed.trim() ? [null] : [...groupsOf(bank.bank), ''];
  return (
    <aside aria-label="Comment bank" className="flex w-64 shrink-0 flex-col border-l border-line bg-tray">
      <div className="flex items-center gap-2 px-3 pt-2">
        <h2 className="font-bold">Comment bank</h2>
        <Link to="/bank" className="ml-auto text-sm text-action hover:underline">
          Open
        </Link>
        <IconButton label="Close the comment bank" icon={X} onClick={onClose} />
      </div>
      <input
        type="search"
        className="field mx-3 my-2 !w-auto !min-h-8 !py-1"
        aria-label="Find phrases"
        placeholder="find"
        maxLength={100}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
      <div className="min-h-0 flex-1 overflow-y-auto px-2 pb-3">
        {bank.phrases.length === 0 && <p className="px-1 text-sm text-soft">Nothing is in your bank yet.</p>}
        {groups.map((group) => {
          const list = group === null ? found : found.filter((p) => p.group === group);
          if (list.length === 0) return null;
          return (
            <section key={group} aria-label={group || 'In no group'}>
              {group !== null && <h3 className="mt-2 px-1 text-xs text-soft">{group || 'In no group'}</h3>}
              {list.slice(0, 100).map((p) => (
                <button
                  key={p.id}
                  type="button"
                  aria-pressed={armed?.id === p.id}
                  draggable
                  onDragStart={(e) => {
                    e.dataTransfer.setData(PHRASE_DRAG, p.id);
                    e.dataTransfer.effectAllowed = 'copy';
                  }}
                  className={`flex w-full items-baseline gap-2 rounded px-1.5 py-1 text-left text-[13px] leading-snug ${armed?.id === p.id ? 'bg-action text-raised' : 'hover:bg-action-wash'}`}
                  onClick={() => onArm(p)}
                >
                  <span className="line-clamp-3 min-w-0 flex-1 break-words">
                    {p.ink && (
                      <span className="block rounded bg-paper p-0.5">
                        <HandInk ink={p.ink} />
                      </span>
                    )}
                    {plainWords(p.words)}
                  </span>
                  {p.key && <span className="key shrink-0">{p.key}</span>}
                </button>
              ))}
            </section>
          );
        })}
      </div>
      {armed && (
        <p role="status" className="border-t border-line px-3 py-2 text-sm">
          Now tap or drag on the page where it belongs.
        </p>
      )}
    </aside>
  );
}

import { PEN_KEYS, type Pen, penTitle, Tray } from '@jotmark/core';
import { ArrowDown, ArrowUp, Copy, Plus, Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { DialogShell, ShellTitle } from '../frame/DialogShell.tsx';
import { announce, standsWords } from '../frame/drag-words.ts';
import { IconButton } from '../frame/IconButton.tsx';
import { off } from '../frame/off.ts';
import { MarkItMakes } from '../look/pen-mark.tsx';
import { PenForm } from './PenForm.tsx';

interface Props {
  /** The tray to change. */
  readonly tray: Tray;
  /** The pen that is looked at first. */
  readonly first: number;
  readonly most: number;
  onKeep(tray: Tray): void;
  onLeave(): void;
}

const NEW_PEN: Pen = { tool: 'ink', name: 'new pen', colour: 'garnet', width: 1.6, focus: null };

/** Who comes: a teacher who wants a pen to be another. Looks at the pens in their order, changes one, sees the mark it makes. */
export function TrayEditor(p: Props) {
  return (
    <DialogShell open title={null} width="wide" onClose={p.onLeave}>
      <Editor {...p} />
    </DialogShell>
  );
}

function Editor({ tray, first, most, onKeep, onLeave }: Props) {
  const [draft, setDraft] = useState(tray);
  const [at, setAt] = useState(first);
  useEffect(() => setAt(first), [first]);
  const { pens } = draft;
  const pen = pens[at] ?? pens[0]!;
  const put = (next: readonly Pen[], here: number) => {
    setDraft({ ...draft, pens: [...next] });
    setAt(here);
  };
  const add = (one: Pen) => put([...pens.slice(0, at + 1), one, ...pens.slice(at + 1)], at + 1);
  const move = (by: number) => {
    const next = [...pens];
    [next[at], next[at + by]] = [next[at + by]!, next[at]!];
    put(next, at + by);
    announce(standsWords(penTitle(next[at + by]!), at + by, next.length));
  };
  const checked = Tray.safeParse(draft);
  return (
    <>
      <div className="flex items-center gap-4 border-b border-line px-6 py-4">
        <ShellTitle>Pens of the tray</ShellTitle>
        <label className="flex items-center gap-2 text-sm text-soft">
          Name
          <input
            className="field !w-44 text-text"
            maxLength={30}
            value={draft.name}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
        </label>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[15rem_1fr] overflow-hidden">
        <div className="overflow-y-auto border-r border-line p-3">
          <ol aria-label="Order of the pens">
            {pens.map((each, i) => (
              <li key={PEN_KEYS[i]}>
                <button
                  type="button"
                  aria-pressed={i === at}
                  className={`flex w-full items-center gap-3 rounded-lg border-2 px-2 py-1.5 text-left ${i === at ? 'border-action bg-paper' : 'border-transparent hover:bg-paper'}`}
                  onClick={() => setAt(i)}
                >
                  <span className="key">{PEN_KEYS[i]}</span>
                  <span className="grid h-6 w-12 place-items-center">
                    <MarkItMakes pen={each} />
                  </span>
                  <span className="truncate text-sm">{penTitle(each)}</span>
                </button>
              </li>
            ))}
          </ol>
          <div className="mt-3 flex flex-wrap gap-1 text-soft">
            <IconButton label="Move up" icon={ArrowUp} disabled={at === 0} onClick={() => move(-1)} />
            <IconButton
              label="Move down"
              icon={ArrowDown}
              disabled={at >= pens.length - 1}
              onClick={() => move(1)}
            />
            <IconButton
              label="Add a pen"
              icon={Plus}
              disabled={pens.length >= most}
              onClick={() => add(NEW_PEN)}
            />
            <IconButton
              label="Duplicate pen"
              icon={Copy}
              disabled={pens.length >= most}
              onClick={() => add(pen)}
            />
            <IconButton
              label="Delete pen"
              icon={Trash2}
              disabled={pens.length === 1}
              onClick={() =>
                put(
                  pens.filter((_, i) => i !== at),
                  Math.max(0, at - 1),
                )
              }
            />
          </div>
        </div>
        <div className="overflow-y-auto p-6">
          <PenForm
            key={at}
            pen={pen}
            onChange={(next) =>
              put(
                pens.map((each, i) => (i === at ? next : each)),
                at,
              )
            }
          />
        </div>
      </div>
      <div className="flex items-center gap-3 border-t border-line px-6 py-4">
        <button
          type="button"
          className="act"
          {...off(!checked.success && 'A pen still lacks something: its name, or a number that is none.')}
          onClick={() => checked.success && onKeep(checked.data)}
        >
          Save pens
        </button>
        <button type="button" className="quiet" onClick={onLeave}>
          Cancel
        </button>
        {!checked.success && (
          <p role="alert" className="text-sm text-caution">
            {draft.name.trim() === '' ? 'The tray needs a name.' : 'Every pen needs a name.'}
          </p>
        )}
      </div>
    </>
  );
}

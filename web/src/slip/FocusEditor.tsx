import { type Focus, FocusSign, INK_NAMES, InkColour, isStudentColour, MOST_FOCUSES } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { IconButton } from '../frame/IconButton.tsx';
import { off } from '../frame/off.ts';
import { FocusSignGlyph } from '../look/glyphs.tsx';

const INKS = InkColour.options.filter((ink) => !isStudentColour(ink));

interface Row extends Focus {
  /** What it was called; null: it is new. */
  readonly was: string | null;
}

/** One's own focuses: called otherwise, made one with another by the same name, put away, added. */
export function FocusEditor({ before, onClose }: { before: readonly Focus[]; onClose(): void }) {
  const client = useQueryClient();
  const [rows, setRows] = useState<readonly Row[]>(before.map((f) => ({ ...f, was: f.name })));
  const [trouble, setTrouble] = useState<string | null>(null);
  const change = (i: number, to: Partial<Row>) =>
    setRows(rows.map((r, n) => (n === i ? { ...r, ...to } : r)));
  const named = rows.map((r) => ({ ...r, name: r.name.trim() })).filter((r) => r.name);
  const focuses = named
    .filter((r, i) => named.findIndex((other) => other.name === r.name) === i)
    .map(({ name, colour, sign }) => ({ name, colour, sign }));
  const renamed = named.flatMap((r) => (r.was && r.was !== r.name ? [{ from: r.was, to: r.name }] : []));
  const merged = named.length - focuses.length;
  const save = async () => {
    try {
      client.setQueryData(keys.focuses, await call('keepFocuses', { body: { focuses, renamed } }));
      if (renamed.length) tell(client, 'focusesRenamed', {});
      onClose();
    } catch (error) {
      setTrouble(sentenceOf(error));
    }
  };
  return (
    <DialogShell open title="Focuses" width="middle" onClose={onClose}>
      <p className="mt-1 text-sm text-soft">
        What your marks are about. Two with one name become one. Pens and phrases go along; marks that are
        made already keep their name.
      </p>
      <ul className="mt-3 space-y-2">
        {rows.map((row, i) => (
          <li key={i} className="flex items-center gap-2">
            <FocusSignGlyph colour={row.colour} sign={row.sign} size={16} />
            <input
              className="field flex-1"
              aria-label={`Name of focus ${i + 1}`}
              maxLength={40}
              value={row.name}
              onChange={(e) => change(i, { name: e.target.value })}
            />
            <select
              className="field !w-28"
              aria-label={`Colour of focus ${i + 1}`}
              value={row.colour}
              onChange={(e) => change(i, { colour: e.target.value as InkColour })}
            >
              {INKS.map((ink) => (
                <option key={ink} value={ink}>
                  {INK_NAMES[ink]}
                </option>
              ))}
            </select>
            <select
              className="field !w-28"
              aria-label={`Sign of focus ${i + 1}`}
              value={row.sign}
              onChange={(e) => change(i, { sign: e.target.value as FocusSign })}
            >
              {FocusSign.options.map((sign) => (
                <option key={sign}>{sign}</option>
              ))}
            </select>
            <IconButton
              label={`Delete ${row.name || 'this focus'}`}
              icon={Trash2}
              onClick={() => setRows(rows.filter((_, n) => n !== i))}
            />
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="quiet mt-2"
        {...off(rows.length >= MOST_FOCUSES && `There are ${MOST_FOCUSES} focuses: that is the most.`)}
        onClick={() => setRows([...rows, { name: '', colour: 'plum', sign: 'diamond', was: null }])}
      >
        Add a focus
      </button>
      {merged > 0 && <p className="mt-2 text-sm text-soft">{merged} of them become one with another.</p>}
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {trouble}
        </p>
      )}
      <div className="mt-4 flex gap-3">
        <button type="button" className="act" onClick={save}>
          Save
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Cancel
        </button>
      </div>
    </DialogShell>
  );
}

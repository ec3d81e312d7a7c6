import type { PileRow } from '@jotmark/core';
import { useState } from 'react';
import { DialogShell } from '../frame/DialogShell.tsx';
import { plural } from '../time/words.ts';

interface Props {
  readonly rows: readonly PileRow[];
  readonly busy: boolean;
  onCancel(): void;
  onRecall(how: { readonly tell: boolean; readonly words: string }): void;
}

/** Before what students have is taken from them: how many have seen it, and what they are told. */
export function RecallDialog({ rows, busy, onCancel, onRecall }: Props) {
  const [tell, setTell] = useState(true);
  const [words, setWords] = useState('');
  const seen = rows.filter((r) => r.back?.seenAt != null);
  const what = plural(rows.length, 'copy', 'copies');
  return (
    <DialogShell open title={`Recall ${what}?`} onClose={onCancel}>
      <p className="mt-2">
        Their students no longer see marks, notes or grade, until you hand back again. You can change
        everything.
      </p>
      <p className="mt-2 text-soft">
        {seen.length === 0
          ? 'None of them has looked at it yet.'
          : `${seen.length} of them ${seen.length === 1 ? 'has' : 'have'} looked at it already: ${seen
              .slice(0, 8)
              .map((r) => r.student.given || r.student.family)
              .join(', ')}${seen.length > 8 ? ' …' : ''}. That stays on record.`}
      </p>
      <label className="mt-4 flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-action"
          checked={tell}
          onChange={(e) => setTell(e.target.checked)}
        />
        Tell students
      </label>
      {tell && (
        <input
          className="field mt-1"
          aria-label="A sentence to tell them"
          placeholder="A sentence of your own, if you like"
          maxLength={1000}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      <div className="mt-6 flex justify-end gap-3">
        <button type="button" className="quiet" onClick={onCancel}>
          Cancel
        </button>
        <button
          type="button"
          className="act"
          disabled={busy}
          onClick={() => onRecall({ tell, words: words.trim() })}
        >
          Recall {what}
        </button>
      </div>
    </DialogShell>
  );
}

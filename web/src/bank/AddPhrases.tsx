import { PHRASES_AT_ONCE, type PhraseId, phrasesIn, plainPhrase, withoutDoubles } from '@jotmark/core';
import { useId, useState } from 'react';
import { sentenceOf } from '../api/sentences.ts';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import type { Bank } from './useBank.ts';

/** One phrase typed, or a list pasted: a line each, a line that ends with a colon begins a group. */
export function AddPhrases({ bank, group }: { bank: Bank; group: string }) {
  const field = useId();
  const [text, setText] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { fresh, doubles } = withoutDoubles(bank.phrases, phrasesIn(text, group));
  const add = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      const made = fresh.map((p) => plainPhrase(newId<PhraseId>(), p.words, { group: p.group }));
      for (let i = 0; i < made.length; i += PHRASES_AT_ONCE)
        await bank.keepMany(made.slice(i, i + PHRASES_AT_ONCE));
      setText('');
    } catch (error) {
      // Those that came before stand already and are known the next time.
      setTrouble(sentenceOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      className="mt-4 border-t border-line pt-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (fresh.length) add();
      }}
    >
      <label htmlFor={field} className="text-sm text-soft">
        Type a phrase, or paste a list: one a line. [name], [words] and [question] are filled at the desk.
      </label>
      <textarea
        id={field}
        className="field mt-1 min-h-16"
        value={text}
        maxLength={200_000}
        onChange={(e) => setText(e.target.value)}
      />
      {trouble && (
        <p role="alert" className="mt-1 text-caution">
          {trouble}
        </p>
      )}
      <div className="mt-2 flex items-center gap-3">
        <button type="submit" className="act" disabled={fresh.length === 0 || busy}>
          {fresh.length > 1 ? `Add ${plural(fresh.length, 'phrase', 'phrases')}` : 'Add'}
        </button>
        {doubles > 0 && (
          <span className="text-sm text-soft">
            {plural(doubles, 'is in the bank already', 'are in the bank already')}
          </span>
        )}
      </div>
    </form>
  );
}

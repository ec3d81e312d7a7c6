import type { Phrase } from '@jotmark/core';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { toast } from '../frame/toast.ts';
import { plural } from '../time/words.ts';
import type { Bank } from './useBank.ts';

/** Phrases that say nearly the same: one of each group is kept, its uses are those of all. */
export function Doubles({ bank, doubles }: { bank: Bank; doubles: readonly (readonly Phrase[])[] }) {
  return (
    <section
      aria-label="Nearly the same"
      className="min-w-80 flex-1 rounded-lg bg-raised px-5 py-4 shadow-sm"
    >
      <h2 className="text-lg font-bold">Nearly the same</h2>
      {doubles.length === 0 && <p className="mt-3 text-soft">No two phrases say nearly the same.</p>}
      <ul className="mt-3 space-y-4">
        {doubles.map((group) => (
          <li key={group.map((p) => p.id).join()}>
            <Group bank={bank} group={group} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Group({ bank, group }: { bank: Bank; group: readonly Phrase[] }) {
  const [kept, setKept] = useState(group[0]!.id);
  const merge = () =>
    call('mergePhrases', {
      params: { phraseId: kept },
      body: {
        others: group
          .filter((p) => p.id !== kept)
          .map((p) => p.id)
          .slice(0, 50),
      },
    }).then(bank.changed, (e) => toast.error(sentenceOf(e)));
  return (
    <fieldset className="rounded-lg border border-line p-3">
      <legend className="px-1 text-sm text-soft">Which one is kept?</legend>
      {group.map((p) => (
        <label key={p.id} className="flex items-baseline gap-2 py-0.5">
          <input type="radio" checked={kept === p.id} onChange={() => setKept(p.id)} />
          <span className="min-w-0 flex-1 break-words">{p.words}</span>
          <span className="text-soft tabular">{p.uses} ×</span>
        </label>
      ))}
      <button type="button" className="quiet mt-2" onClick={merge}>
        Keep this, delete {plural(group.length - 1, 'other', 'others')}
      </button>
    </fieldset>
  );
}

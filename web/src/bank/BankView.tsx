import { PHRASES_AT_ONCE, type Phrase, type PhraseId, phrasesIn } from '@jotmark/core';
import { useId, useMemo, useState } from 'react';
import { sentenceOf } from '../api/sentences.ts';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import { PhraseEditor } from './PhraseEditor.tsx';
import { type Bank, useBank } from './useBank.ts';

const ALL = '\u0000all';

/** Who comes: a teacher between two piles, who wants the evening's best sentences at hand tomorrow. Finds, mends, adds, groups. */
export function BankView() {
  const bank = useBank();
  return (
    <>
      <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Comment bank' }]} />
      {bank.error ? (
        <Trouble error={bank.error} again={() => bank.refetch()} />
      ) : bank.loaded ? (
        <Loaded bank={bank} />
      ) : (
        <Waiting what="your comment bank" />
      )}
    </>
  );
}

function Loaded({ bank }: { bank: Bank }) {
  const [group, setGroup] = useState(ALL);
  const [typed, setTyped] = useState('');
  const [open, setOpen] = useState<PhraseId | null>(null);
  const { phrases } = bank;
  const groups = useMemo(() => {
    const count = new Map<string, number>();
    for (const p of phrases) count.set(p.group, (count.get(p.group) ?? 0) + 1);
    return [...count].sort(([a], [b]) => Number(a === '') - Number(b === ''));
  }, [phrases]);
  const shown = useMemo(() => {
    const found = typed.trim()
      ? bank.index.find(typed, { focus: null, now: Date.now() }, phrases.length)
      : phrases;
    return group === ALL ? found : found.filter((p) => p.group === group);
  }, [bank.index, phrases, typed, group]);
  const title = group === ALL ? 'All phrases' : group || 'In no group';
  return (
    <main className="flex flex-wrap items-start gap-4 p-4">
      <nav aria-label="Groups" className="w-56 shrink-0">
        <GroupLine
          text="All phrases"
          count={phrases.length}
          on={group === ALL}
          onTake={() => setGroup(ALL)}
        />
        {groups.map(([name, count]) => (
          <GroupLine
            key={name}
            text={name || 'In no group'}
            count={count}
            on={group === name}
            onTake={() => setGroup(name)}
          />
        ))}
      </nav>
      <section aria-label={title} className="min-w-80 flex-1 rounded-lg bg-raised px-5 py-4 shadow-sm">
        <div className="flex flex-wrap items-center gap-4">
          <h2 className="text-lg font-bold">{title}</h2>
          <input
            type="search"
            className="field ml-auto !w-72"
            aria-label="Find phrases"
            placeholder="find: any words, any order"
            value={typed}
            maxLength={100}
            onChange={(e) => setTyped(e.target.value)}
          />
        </div>
        {phrases.length === 0 ? (
          <p className="mt-4 text-soft">
            Nothing is in your bank yet. Keep a comment from the desk with Alt and K while you write it, or
            type and paste here. At the desk, what fits stands below what you type, and Tab takes it.
          </p>
        ) : shown.length === 0 ? (
          <p className="mt-4 text-soft">No phrase fits that.</p>
        ) : (
          <ul className="mt-3 divide-y divide-dashed divide-line-strong">
            {shown.map((p) => (
              <li key={p.id} className="py-1">
                {open === p.id ? (
                  <PhraseEditor
                    phrase={p}
                    groups={groups.map(([name]) => name).filter(Boolean)}
                    bank={bank}
                    onClose={() => setOpen(null)}
                  />
                ) : (
                  <PhraseLine phrase={p} onOpen={() => setOpen(p.id)} />
                )}
              </li>
            ))}
          </ul>
        )}
        <AddPhrases bank={bank} group={group === ALL ? '' : group} />
      </section>
    </main>
  );
}

function GroupLine({
  text,
  count,
  on,
  onTake,
}: {
  text: string;
  count: number;
  on: boolean;
  onTake(): void;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`flex w-full items-baseline gap-2 rounded-lg border-2 px-3 py-1.5 text-left ${on ? 'border-action bg-paper' : 'border-transparent hover:bg-raised'}`}
      onClick={onTake}
    >
      <span className="min-w-0 flex-1 break-words">{text}</span>
      <span className="text-soft tabular">{count}</span>
    </button>
  );
}

function PhraseLine({ phrase, onOpen }: { phrase: Phrase; onOpen(): void }) {
  const { clock } = useHere();
  const about = [
    phrase.focus,
    phrase.usedAt === null ? 'never used' : `last used ${clock.moment(phrase.usedAt, Date.now())}`,
  ].filter(Boolean);
  return (
    <button
      type="button"
      aria-label={`Change “${phrase.words}”`}
      className="flex w-full items-baseline gap-4 rounded px-2 py-2 text-left hover:bg-action-wash"
      onClick={onOpen}
    >
      <span className="min-w-0 flex-1">
        <span className="block break-words whitespace-pre-wrap">{phrase.words}</span>
        <span className="text-sm text-soft">{about.join(' · ')}</span>
      </span>
      <span className="font-semibold tabular">{phrase.uses} ×</span>
    </button>
  );
}

/** One phrase typed, or a list pasted: a line each, a line that ends with a colon begins a group. */
function AddPhrases({ bank, group }: { bank: Bank; group: string }) {
  const field = useId();
  const [text, setText] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const list = phrasesIn(text, group);
  const known = new Set(bank.phrases.map((p) => p.words));
  const fresh = list.filter(
    (p, i) => !known.has(p.words) && list.findIndex((q) => q.words === p.words) === i,
  );
  const add = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      const made = fresh.map((p) => ({ id: newId<PhraseId>(), ...p, focus: null }));
      for (let i = 0; i < made.length; i += PHRASES_AT_ONCE)
        await bank.keep(made.slice(i, i + PHRASES_AT_ONCE));
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
        Type a phrase, or paste a list: one a line. [name] and [words] are filled at the desk.
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
        {list.length > fresh.length && (
          <span className="text-sm text-soft">
            {plural(list.length - fresh.length, 'is in the bank already', 'are in the bank already')}
          </span>
        )}
      </div>
    </form>
  );
}

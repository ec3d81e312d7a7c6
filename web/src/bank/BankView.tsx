import { DndContext, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core';
import { groupsOf, nearDoubles, type Phrase, type PhraseId } from '@jotmark/core';
import { useMemo, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { announce, standsWords } from '../frame/drag-words.ts';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { GhostsHere } from '../words/ghosts.ts';
import { AddPhrases } from './AddPhrases.tsx';
import { BankFiles } from './BankFiles.tsx';
import { bankDragWords } from './bank-drag-words.ts';
import { Doubles } from './Doubles.tsx';
import { ALL, DOUBLES, GroupList } from './GroupList.tsx';
import { PhraseEditor } from './PhraseEditor.tsx';
import { PhraseLine } from './PhraseLine.tsx';
import { type Bank, useBank } from './useBank.ts';
import { useBankLine } from './useBankLine.ts';

/** Who comes: a teacher between two piles, who wants the evening's best sentences at hand tomorrow. Finds, mends, adds, groups. */
export function BankView() {
  const bank = useBank();
  useBankLine();
  return (
    <>
      <TopBar crumbs={[{ text: 'Today', to: '/' }, { text: 'Comment bank' }]} />
      {bank.error ? (
        <Trouble error={bank.error} again={() => bank.refetch()} />
      ) : bank.loaded ? (
        // While phrases are written none are offered.
        <GhostsHere value={null}>
          <Loaded bank={bank} />
        </GhostsHere>
      ) : (
        <Waiting what="your comment bank" />
      )}
    </>
  );
}

const ORDERS = {
  made: 'as they were added',
  most: 'most used first',
  never: 'never used',
  long: 'longest not used first',
} as const;
type Order = keyof typeof ORDERS;

function ordered(phrases: readonly Phrase[], order: Order): readonly Phrase[] {
  if (order === 'never') return phrases.filter((p) => p.uses === 0);
  if (order === 'most') return [...phrases].sort((a, b) => b.uses - a.uses);
  if (order === 'long') return [...phrases].sort((a, b) => (a.usedAt ?? 0) - (b.usedAt ?? 0));
  return phrases;
}

function Loaded({ bank }: { bank: Bank }) {
  const [group, setGroup] = useState(ALL);
  const [typed, setTyped] = useState('');
  const [order, setOrder] = useState<Order>('made');
  const { phrases } = bank;
  const groups = useMemo(() => groupsOf(bank.bank), [bank.bank]);
  const doubles = useMemo(() => nearDoubles(phrases), [phrases]);
  const shown = useMemo(() => {
    const found = typed.trim()
      ? bank.index.find(typed, { focus: null, now: Date.now() }, phrases.length)
      : ordered(phrases, order);
    return group === ALL || group === DOUBLES ? found : found.filter((p) => p.group === group);
  }, [bank.index, phrases, typed, group, order]);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }));
  const moveGroup = (from: number, to: number) => {
    if (to < 0 || to >= groups.length || from === to) return;
    const next = [...groups];
    next.splice(to, 0, ...next.splice(from, 1));
    announce(standsWords(groups[from]!, to, groups.length));
    call('orderGroups', { body: { groups: next } }).then(bank.changed, (e) => toast.error(sentenceOf(e)));
  };
  const moveInto = (id: PhraseId, to: string) => {
    const phrase = phrases.find((p) => p.id === id);
    if (!phrase || phrase.group === to) return;
    const { uses, usedAt, asked, ...said } = phrase;
    bank.keep([{ ...said, group: to }]);
  };
  return (
    <DndContext
      accessibility={{ announcements: bankDragWords(groups, phrases) }}
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragEnd={({ active, over }) => {
        const what = active.data.current;
        const onto = over?.data.current;
        if (!what || !onto) return;
        if (what.of === 'phrase') moveInto(active.id as PhraseId, onto.name);
        else if (what.of === 'group' && onto.name)
          moveGroup(groups.indexOf(what.name), groups.indexOf(onto.name));
      }}
    >
      <main className="flex flex-wrap items-start gap-4 p-4">
        <GroupList
          groups={groups}
          phrases={phrases}
          doubles={doubles.length}
          on={group}
          onTake={setGroup}
          onMove={moveGroup}
        />
        {group === DOUBLES ? (
          <Doubles bank={bank} doubles={doubles} />
        ) : (
          <Phrases
            bank={bank}
            group={group}
            groups={groups}
            shown={shown}
            typed={typed}
            onType={setTyped}
            order={order}
            onOrder={setOrder}
          />
        )}
      </main>
    </DndContext>
  );
}

interface ListProps {
  readonly bank: Bank;
  readonly group: string;
  readonly groups: readonly string[];
  readonly shown: readonly Phrase[];
  readonly typed: string;
  readonly order: Order;
  onType(typed: string): void;
  onOrder(order: Order): void;
}

function Phrases({ bank, group, groups, shown, typed, order, onType, onOrder }: ListProps) {
  const [open, setOpen] = useState<PhraseId | null>(null);
  const title = group === ALL ? 'All phrases' : group || 'In no group';
  const own = group === ALL ? null : group;
  return (
    <section aria-label={title} className="min-w-80 flex-1 rounded-lg bg-raised px-5 py-4 shadow-sm">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-lg font-bold">{title}</h2>
        <select
          className="field ml-auto !w-auto"
          aria-label="Order of the phrases"
          value={order}
          onChange={(e) => onOrder(e.target.value as Order)}
        >
          {Object.entries(ORDERS).map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
        <input
          type="search"
          className="field !w-64"
          aria-label="Find phrases"
          placeholder="Find words, in any order"
          value={typed}
          maxLength={100}
          onChange={(e) => onType(e.target.value)}
        />
      </div>
      {bank.phrases.length === 0 ? (
        <p className="mt-4 text-soft">
          Nothing is in your bank yet. Keep a comment from the desk with Alt and K while you write it, or type
          and paste here. At the desk, what fits stands below what you type, and Tab takes it.
        </p>
      ) : shown.length === 0 ? (
        <p className="mt-4 text-soft">
          {order === 'never' && !typed.trim() ? 'Every phrase has been used.' : 'No phrase fits that.'}
        </p>
      ) : (
        <ul className="mt-3 divide-y divide-dashed divide-line-strong">
          {shown.map((p) => (
            <li key={p.id} className="py-1">
              {open === p.id ? (
                <PhraseEditor phrase={p} groups={groups} bank={bank} onClose={() => setOpen(null)} />
              ) : (
                <PhraseLine phrase={p} onOpen={() => setOpen(p.id)} />
              )}
            </li>
          ))}
        </ul>
      )}
      <AddPhrases bank={bank} group={own ?? ''} />
      <BankFiles bank={bank} shown={shown} group={own} />
    </section>
  );
}

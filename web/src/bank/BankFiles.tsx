import {
  BANK_FILE_LIMIT,
  type Phrase,
  type PhraseId,
  type ReadBank,
  readBank,
  withoutDoubles,
  writeBankCsv,
  writeBankFile,
} from '@jotmark/core';
import { useRef, useState } from 'react';
import { sentenceOf } from '../api/sentences.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { FileInput } from '../frame/FileInput.tsx';
import { off } from '../frame/off.ts';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import type { Bank } from './useBank.ts';

const REFUSED: Readonly<Record<Extract<ReadBank, { ok: false }>['reason'], string>> = {
  'too-large': 'This file is larger than any bank. Nothing was taken in. Send a part of it.',
  'too-many': 'There are more than 5,000 phrases in this file. Nothing was taken in. Send a part of it.',
  'not-a-bank':
    'This is no bank and no table of phrases. Nothing was taken in. A bank is saved with “Save as file”, a table with “Save as CSV”.',
  newer: 'This file was written by a newer Jotmark. Nothing was taken in. Ask for it as CSV.',
  empty: 'This file is empty. Nothing was taken in.',
};

function save(name: string, type: string, text: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

const fileName = (group: string | null): string =>
  `Comment bank${group ? ` – ${group.replace(/[^\p{L}\p{N} -]/gu, ' ')}` : ''}`;

/** What is shown, as a file for a colleague or as a table; and what a colleague sent, taken in without doubles. */
export function BankFiles({
  bank,
  shown,
  group,
}: {
  bank: Bank;
  shown: readonly Phrase[];
  group: string | null;
}) {
  const input = useRef<HTMLInputElement>(null);
  const [coming, setComing] = useState<{ name: string; read: Extract<ReadBank, { ok: true }> } | null>(null);
  const look = async (file: File | undefined) => {
    if (!file) return;
    const read: ReadBank =
      file.size > 4 * BANK_FILE_LIMIT ? { ok: false, reason: 'too-large' } : readBank(await file.text());
    if (read.ok) setComing({ name: file.name, read });
    else toast.error(REFUSED[read.reason]);
  };
  return (
    <div className="mt-4 flex flex-wrap gap-2 border-t border-line pt-3">
      <button type="button" className="quiet" onClick={() => input.current?.click()}>
        Import a bank …
      </button>
      <FileInput
        at={input}
        accept=".json,.csv,.txt,application/json,text/csv"
        label="A bank as a file, or a table of phrases"
        onFiles={(files) => look(files[0])}
      />
      <button
        type="button"
        className="quiet"
        {...off(shown.length === 0 && 'There are no phrases here yet.')}
        onClick={() => save(`${fileName(group)}.json`, 'application/json', writeBankFile(shown))}
      >
        Save as file
      </button>
      <button
        type="button"
        className="quiet"
        {...off(shown.length === 0 && 'There are no phrases here yet.')}
        onClick={() => save(`${fileName(group)}.csv`, 'text/csv;charset=utf-8', writeBankCsv(shown))}
      >
        Save as CSV
      </button>
      {coming && <BringIn bank={bank} {...coming} onClose={() => setComing(null)} />}
    </div>
  );
}

/** What came, before it is taken in: how many are new, how many are there already, what cannot be read. */
function BringIn({
  bank,
  name,
  read,
  onClose,
}: {
  bank: Bank;
  name: string;
  read: Extract<ReadBank, { ok: true }>;
  onClose(): void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { fresh, doubles } = withoutDoubles(bank.phrases, read.phrases);
  const keys = new Set(bank.phrases.flatMap((p) => (p.key ? [p.key] : [])));
  const take = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      // One's own favourites keep their keys.
      const made = fresh.map((p) => ({
        ...p,
        id: newId<PhraseId>(),
        key: p.key && !keys.has(p.key) ? p.key : null,
      }));
      await bank.keepMany(made);
      toast.success(`${plural(made.length, 'phrase is', 'phrases are')} in your bank now.`);
      onClose();
    } catch (error) {
      setTrouble(
        `${sentenceOf(error)} What was taken in before stands; bring the file in again for the rest.`,
      );
    } finally {
      setBusy(false);
    }
  };
  return (
    <DialogShell title={`Bring in “${name}”`} open onClose={onClose}>
      <p>
        {plural(fresh.length, 'phrase is', 'phrases are')} new.
        {doubles > 0 && ` ${plural(doubles, 'is', 'are')} in your bank already and left out.`}
      </p>
      {read.odd.length > 0 && (
        <p className="mt-2 text-caution">
          {plural(read.odd.length, 'entry', 'entries')} cannot be taken in:{' '}
          {read.odd
            .slice(0, 5)
            .map((o) => `${o.line} (${o.why === 'too-long' ? 'longer than 4,000 characters' : 'no phrase'})`)
            .join(', ')}
          {read.odd.length > 5 && ' …'}
        </p>
      )}
      <ul className="mt-2 max-h-64 overflow-y-auto text-sm text-soft">
        {fresh.slice(0, 60).map((p, i) => (
          <li key={i} className="truncate border-b border-dashed border-line py-0.5">
            {p.words}
          </li>
        ))}
      </ul>
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {trouble}
        </p>
      )}
      <div className="mt-3 flex gap-3">
        <button type="button" className="act" disabled={busy || fresh.length === 0} onClick={take}>
          Add {plural(fresh.length, 'phrase', 'phrases')}
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Cancel
        </button>
      </div>
    </DialogShell>
  );
}

import type { GridShape, ReplyOf, Routes, Rubric } from '@jotmark/core';
import { useEffect, useRef, useState } from 'react';
import { addressOf, upload } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { toast } from '../frame/toast.ts';
import { ReadTable } from './ReadTable.tsx';
import { pastedTable, type Tables } from './tables.ts';

/** Takes a rubric out of a file or the clipboard, after showing what was understood. */
export function TakeTable({
  what,
  pasted = null,
  onPasted,
  onTake,
}: {
  /** What taking it does. */
  what: string;
  /** What was pasted elsewhere in this view. */
  pasted?: GridShape | null;
  onPasted?(table: null): void;
  onTake(rubric: Rubric, name: string): void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [found, setFound] = useState<Tables | null>(null);
  const read = async (file: File) => {
    setBusy(true);
    setTrouble(null);
    try {
      const { signal } = new AbortController();
      const { tables } = await upload<ReplyOf<Routes['readTable']>>(
        addressOf('readTable'),
        file,
        () => {},
        signal,
      );
      setFound({ from: file.name, tables });
    } catch (error) {
      setTrouble(sentenceOf(error));
    } finally {
      setBusy(false);
    }
  };
  useEffect(() => {
    if (pasted) setFound({ from: 'the clipboard', tables: [pasted] });
  }, [pasted]);
  useEffect(() => {
    // Where nothing else takes what is pasted, a table is taken.
    const heard = (e: ClipboardEvent) => {
      if ((e.target as HTMLElement).closest('input, textarea')) return;
      const table = pastedTable(e.clipboardData?.getData('text/plain') ?? '');
      if (table) setFound({ from: 'the clipboard', tables: [table] });
    };
    document.addEventListener('paste', heard);
    return () => document.removeEventListener('paste', heard);
  }, []);
  const close = () => {
    setFound(null);
    onPasted?.(null);
  };
  return (
    <>
      <button type="button" className="quiet" disabled={busy} onClick={() => input.current?.click()}>
        {busy ? 'Reading …' : 'From a spreadsheet …'}
      </button>
      <FileInput
        at={input}
        label="A spreadsheet or a document with a table"
        accept=".csv,.tsv,.txt,.xlsx,.ods,.docx,.odt"
        onFiles={([file]) => file && read(file)}
      />
      {trouble && (
        <p role="alert" className="w-full text-caution">
          {trouble}{' '}
          <button type="button" className="underline" onClick={() => setTrouble(null)}>
            Close
          </button>
        </p>
      )}
      {found && (
        <ReadTable
          found={found}
          what={what}
          onClose={close}
          onTake={(rubric, name) => {
            onTake(rubric, name);
            close();
            toast.success(`Taken from ${found.from}.`);
          }}
        />
      )}
    </>
  );
}

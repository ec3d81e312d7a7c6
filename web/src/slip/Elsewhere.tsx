import { type BroughtIn, type HandInId, type Mark, type OutOrder, same } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { FileDown, FileUp, Printer } from 'lucide-react';
import { useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { type HowFar, outcomeThat, saveOrdered, sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { Fold } from '../frame/Fold.tsx';
import { Making, useTakeOut } from '../frame/TakeOut.tsx';
import { toast } from '../frame/toast.ts';
import { putChange, standing } from '../outbox/changes.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { plural } from '../time/words.ts';

const WAYS: readonly { readonly label: string; order(handInId: HandInId): OutOrder }[] = [
  {
    label: 'PDF with marks and a cover sheet',
    order: (handInId) => ({ what: 'copy', handInId, as: 'pdf' }),
  },
  {
    label: 'PDF for printing, notes beside the pages',
    order: (handInId) => ({ what: 'copy', handInId, as: 'print-beside' }),
  },
  { label: 'Marks as XFDF', order: (handInId) => ({ what: 'marks', handInId, as: 'xfdf' }) },
  {
    label: 'Marks as Web Annotations (JSON-LD)',
    order: (handInId) => ({ what: 'marks', handInId, as: 'jsonld' }),
  },
];

/** For who marks a while without Jotmark: the copy as a PDF of the standard, to print, and back in again. */
export function Elsewhere({
  handInId,
  keeper,
  readOnly,
}: {
  handInId: HandInId;
  keeper: SheetKeeper;
  readOnly: boolean;
}) {
  const input = useRef<HTMLInputElement>(null);
  const out = useTakeOut();
  const [progress, setProgress] = useState<HowFar | null>(null);
  const bring = useMutation({
    mutationFn: (file: File) => sendFiles('bringIn', { handInId }, file),
    onSuccess: (outcome) => toast(putIn(keeper, outcomeThat('marks', outcome).brought), { duration: 12_000 }),
    onError: (error) => toast.error(`${sentenceOf(error)} No mark was changed.`),
  });
  const save = useMutation({
    mutationFn: async (as: 'notes' | 'flat') =>
      saveOrdered(await call('markedPdf', { params: { handInId }, body: { as } }), setProgress),
    onError: (error) => toast.error(sentenceOf(error)),
    onSettled: () => setProgress(null),
  });
  const making = progress
    ? `Making the PDF${progress.total > 1 ? `: ${progress.done} of ${progress.total} files` : ''} …`
    : 'Making the PDF …';
  const waits = (as: 'notes' | 'flat') => save.isPending && save.variables === as;
  const entry = 'flex w-full items-center gap-2 rounded px-1.5 py-1 text-left text-action hover:underline';
  return (
    <Fold name="pdf" head="As a PDF" className="mt-3 border-t border-line pt-3 text-sm" headClass="text-soft">
      <div className="mt-2">
        <button
          type="button"
          className={entry}
          disabled={save.isPending}
          onClick={() => save.mutate('notes')}
        >
          <FileDown size={16} className="shrink-0" aria-hidden="true" />
          {waits('notes') ? making : 'PDF with marks'}
        </button>
        <button type="button" className={entry} disabled={save.isPending} onClick={() => save.mutate('flat')}>
          <Printer size={16} className="shrink-0" aria-hidden="true" />
          {waits('flat') ? making : 'PDF for printing, notes on an extra page'}
        </button>
        {WAYS.map(({ label, order }) => (
          <button
            key={label}
            type="button"
            className={entry}
            disabled={out.making !== null}
            onClick={() => out.order(label, order(handInId))}
          >
            <FileDown size={16} className="shrink-0" aria-hidden="true" />
            {label}
          </button>
        ))}
        <Making out={out} />
        {!readOnly && (
          <button
            type="button"
            className={entry}
            disabled={bring.isPending}
            onClick={() => input.current?.click()}
          >
            <FileUp size={16} className="shrink-0" aria-hidden="true" />
            {bring.isPending ? 'Reading the marks …' : 'Bring in what was marked elsewhere …'}
          </button>
        )}
        <FileInput
          at={input}
          label="File that was marked elsewhere"
          accept="application/pdf,.pdf,.xfdf,.jsonld,.json"
          onFiles={([file]) => file && bring.mutate(file)}
        />
      </div>
    </Fold>
  );
}

/** Puts what was found on the copy, as one step that can be undone; gives what to say about it. */
function putIn(keeper: SheetKeeper, { marks, unknown, offPage }: BroughtIn): string {
  const now = marks.map((mark) => [mark, standing(keeper, mark)] as const);
  const fresh = now.filter(([mark, was]) => was === null || !same(was, mark));
  keeper.do(fresh.map(([mark, was]: readonly [Mark, Mark | null]) => putChange(keeper, mark, was)));
  const added = fresh.filter(([, was]) => was === null).length;
  const said = [
    marks.length === 0 && 'There are no marks in this file.',
    added > 0 && `${plural(added, 'mark', 'marks')} brought in.`,
    fresh.length > added &&
      `${plural(fresh.length - added, 'mark is', 'marks are')} now as in the file; undo takes that back.`,
    marks.length > fresh.length && `${marks.length - fresh.length} were here already.`,
    offPage > 0 && `${offPage} are on pages that this copy does not have.`,
    unknown.length > 0 && `Left in the file: ${unknown.map((u) => `${u.count} × ${u.kind}`).join(', ')}.`,
  ];
  return said.filter(Boolean).join(' ');
}

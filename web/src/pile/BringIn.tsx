import {
  type AssignmentId,
  BATCH_LIMIT,
  type BroughtIn,
  type ChangeId,
  type CopyId,
  type HandInId,
  type MarkingChange,
  type PileRow,
  same,
} from '@jotmark/core';
import { useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { type HowFar, outcomeThat, sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { DialogShell } from '../frame/DialogShell.tsx';
import { FileInput } from '../frame/FileInput.tsx';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';

interface Line {
  readonly file: File;
  readonly says: string;
  /** Nobody knows whose it is: it waits to be told. */
  readonly asks: boolean;
}

/** Marks that were made elsewhere, many files at once: each finds its copy, or is told it. */
export function BringIn({
  assignmentId,
  rows,
  open,
  onClose,
}: {
  assignmentId: AssignmentId;
  /** Copies that are in and not handed back. */
  rows: readonly PileRow[];
  open: boolean;
  onClose(): void;
}) {
  const tell = useTell();
  const input = useRef<HTMLInputElement>(null);
  const [lines, setLines] = useState<readonly Line[]>([]);
  const say = (file: File, says: string, asks = false) =>
    setLines((before) => [...before.filter((l) => l.file !== file), { file, says, asks }]);

  /** Reads one file and puts its marks where they belong. */
  const take = async (file: File, chosen: PileRow | null) => {
    say(file, 'is read …');
    try {
      const onProgress = ({ ahead }: HowFar) =>
        say(file, ahead ? `waits: ${plural(ahead, 'file is', 'files are')} before it` : 'is read …');
      const outcome = chosen?.handInId
        ? await sendFiles('bringIn', { handInId: chosen.handInId }, file, { onProgress })
        : await sendFiles('bringInAny', { assignmentId }, file, { onProgress });
      const found = outcomeThat('marks', outcome).brought;
      if (!found.to) return say(file, 'does not say whose it is. Whose copy is this?', true);
      const put = await putIn(found.to.copyId, found.to.handInId, found);
      say(file, `${found.to.name}: ${put}`);
      tell('marksBroughtIn', { assignmentId, copyId: found.to.copyId });
    } catch (error) {
      say(file, `${sentenceOf(error)} No mark was changed.`);
    }
  };
  const close = () => {
    setLines([]);
    onClose();
  };
  return (
    <DialogShell open={open} title={'Bring in what was marked elsewhere'} width="middle" onClose={close}>
      <p className="mt-2 text-soft">
        PDFs of this pile that were marked in any PDF reader. Each finds its copy by itself, or by the name in
        its file name. A mark that is here already does not come twice.
      </p>
      <ol className="mt-4 min-h-0 divide-y divide-line overflow-y-auto">
        {lines.map((line) => (
          <li key={`${line.file.name} ${line.file.size}`} className="py-2">
            <p className="truncate font-semibold">{line.file.name}</p>
            <p role="status">{line.says}</p>
            {line.asks && (
              <select
                className="field mt-1"
                aria-label={`Copy of ${line.file.name}`}
                defaultValue=""
                onChange={(e) => {
                  const row = rows.find((r) => r.copyId === e.target.value);
                  if (row) take(line.file, row);
                }}
              >
                <option value="" disabled>
                  choose the copy …
                </option>
                {rows.map((row) => (
                  <option key={row.copyId} value={row.copyId}>
                    {nameOf(row)}
                  </option>
                ))}
              </select>
            )}
          </li>
        ))}
      </ol>
      <FileInput
        at={input}
        label="PDFs that were marked elsewhere"
        accept="application/pdf,.pdf"
        multiple
        onFiles={async (files) => {
          // One after the other: the server opens few files at a time.
          for (const file of files) await take(file, null);
        }}
      />
      <div className="mt-5 flex gap-3">
        <button type="button" className="act" onClick={() => input.current?.click()}>
          Choose PDFs …
        </button>
        <button type="button" className="quiet" onClick={close}>
          Back to the pile
        </button>
      </div>
    </DialogShell>
  );
}

const nameOf = (row: PileRow): string => `${row.student.given} ${row.student.family}`.trim();

/** Puts what was found on a copy that nobody has open here, and gives what to say about it. */
async function putIn(copyId: CopyId, handInId: HandInId, found: BroughtIn): Promise<string> {
  const { marking } = await call('desk', { params: { copyId } });
  const there = new Map(marking.marks.map((m) => [m.id, m]));
  const changes = found.marks.flatMap((mark): MarkingChange[] => {
    const now = there.get(mark.id);
    if (now?.mark && same(now.mark, mark)) return [];
    return [{ id: newId<ChangeId>(), base: now?.version ?? null, type: 'put', mark, was: now?.mark ?? null }];
  });
  let applied = 0;
  for (let at = 0; at < changes.length; at += BATCH_LIMIT) {
    const { results } = await call('sendChanges', {
      params: { handInId },
      body: { changes: changes.slice(at, at + BATCH_LIMIT) },
    });
    applied += results.filter((r) => r.outcome === 'applied').length;
  }
  const says = [
    `${plural(applied, 'mark', 'marks')} brought in`,
    found.marks.length > changes.length && `${found.marks.length - changes.length} were here already`,
    changes.length > applied && `${changes.length - applied} were not taken`,
    found.offPage > 0 && `${found.offPage} are on pages that this copy does not have`,
    found.unknown.length > 0 &&
      `left in the file: ${found.unknown.map((u) => `${u.count} × ${u.kind}`).join(', ')}`,
  ];
  return `${says.filter(Boolean).join('; ')}.`;
}

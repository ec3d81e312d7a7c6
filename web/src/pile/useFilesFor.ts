import {
  type CopyId,
  type DocumentId,
  type HandInId,
  type Pile,
  type PileRow,
  whoseFile,
} from '@jotmark/core';
import { useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { outcomeThat, sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';

/** So many files are looked over at once. */
export const MOST_AT_ONCE = 500;

/** A file that came another way, and for whom it is to be handed in. */
export interface FileFor {
  readonly file: File;
  /** Its name with the folders it lies in. */
  readonly path: string;
  /** Null: for nobody. */
  readonly to: CopyId | null;
  /** Another file of the same name and size is here already, for the same student. */
  readonly double: boolean;
  /** It is this student's, whose copy is in already; null: it is not so. */
  readonly late: string | null;
}

/** What can be handed in for: the copy is with its student. */
export const takesFiles = (row: PileRow): boolean =>
  row.place === 'with-student' || row.place === 'handed-back';

/** A file knows the folders it was chosen or dropped with. */
const pathOf = (file: File & { readonly path?: string }): string =>
  file.webkitRelativePath || file.path || file.name;

/** By which a file is told from others: its name, its size, and whose it is. */
const keyOf = (file: File, of: CopyId | null): string => `${file.name} ${file.size} ${of ?? ''}`;

/**
 * Each file with whose it is: `only`, where it was put on one line; else by its name. Of the same file of one student twice, `before` counted, the second
 * is left out.
 */
export function matched(
  files: readonly File[],
  rows: readonly PileRow[],
  only: CopyId | null,
  before: readonly FileFor[] = [],
): FileFor[] {
  const students = rows.map((r) => r.student);
  const seen = new Set(before.map((f) => keyOf(f.file, f.to)));
  return files.map((file) => {
    const path = pathOf(file).replace(/^\.?\//, '');
    const at = only ? null : whoseFile(path, students);
    const row = only ? rows.find((r) => r.copyId === only) : at === null ? undefined : rows[at];
    const takes = row !== undefined && takesFiles(row);
    const key = keyOf(file, row?.copyId ?? null);
    const double = seen.has(key);
    seen.add(key);
    return {
      file,
      path,
      double,
      to: takes && !double ? row.copyId : null,
      late: row && !takes ? nameOf(row) : null,
    };
  });
}

interface HandedInFor {
  readonly copyId: CopyId;
  readonly handInId: HandInId;
}

/** Handing in for students: what is to go to whom, how far it is, and what did not work. */
export function useFilesFor(pile: Pile) {
  const tell = useTell();
  const { id: assignmentId } = pile.assignment;
  const [files, setFiles] = useState<readonly FileFor[] | null>(null);
  const [progress, setProgress] = useState<{ readonly done: number; readonly total: number } | null>(null);
  const [trouble, setTrouble] = useState<readonly string[]>([]);
  const stop = useRef<AbortController | null>(null);
  const changed = () => tell('pileChanged', { assignmentId });

  /** Takes files in, behind those that are here already. */
  const begin = (chosen: readonly File[], only: CopyId | null = null) => {
    // What a computer lays into folders by itself is no work.
    const real = chosen.filter((f) => !f.name.startsWith('.') && f.name !== 'Thumbs.db');
    const here = files ?? [];
    const room = MOST_AT_ONCE - here.length;
    setTrouble(
      real.length > room
        ? [`At most ${MOST_AT_ONCE} files at once: ${real.length - room} were left out.`]
        : [],
    );
    setFiles([...here, ...matched(real.slice(0, room), pile.rows, only, here)]);
  };
  const close = () => {
    stop.current?.abort();
    setFiles(null);
    setTrouble([]);
  };
  const undo = async (all: readonly HandedInFor[]) => {
    const failed: string[] = [];
    for (const { copyId, handInId } of all)
      await call('undoHandInFor', { params: { copyId, handInId } }).catch((error) =>
        failed.push(sentenceOf(error)),
      );
    changed();
    if (failed.length) toast.error([...new Set(failed)].join(' '));
    else toast.success('Undone: they are as they were.');
  };

  const send = async (onTime: boolean) => {
    const by = new Map<CopyId, FileFor[]>();
    for (const f of files ?? []) if (f.to) by.set(f.to, [...(by.get(f.to) ?? []), f]);
    const wrong: string[] = [];
    const went: HandedInFor[] = [];
    const sent = new Set<File>();
    stop.current = new AbortController();
    const { signal } = stop.current;
    for (const [copyId, own] of by) {
      if (signal.aborted) break;
      setProgress({ done: went.length + wrong.length, total: by.size });
      try {
        const documents: DocumentId[] = [];
        for (const { file } of own) {
          const outcome = await sendFiles('addFileFor', { copyId }, file, { signal });
          documents.push(outcomeThat('document', outcome).document.id);
        }
        if (signal.aborted) break;
        const handInId = newId<HandInId>();
        await call('handInFor', { params: { copyId }, body: { id: handInId, documents, onTime } });
        went.push({ copyId, handInId });
        for (const f of own) sent.add(f.file);
      } catch (error) {
        if (signal.aborted) break;
        wrong.push(`${nameOf(pile.rows.find((r) => r.copyId === copyId))}: ${sentenceOf(error)}`);
      }
    }
    const stopped = signal.aborted;
    stop.current = null;
    setProgress(null);
    setTrouble(wrong);
    if (went.length)
      toast.success(`Handed in for ${plural(went.length, 'student', 'students')}.`, {
        duration: 20_000,
        action: { label: 'Undo', onClick: () => undo(went) },
      });
    changed();
    // Closed meanwhile it stays closed.
    setFiles((all) => (all && (stopped || wrong.length) ? all.filter((f) => !sent.has(f.file)) : null));
  };
  return {
    files,
    progress,
    trouble,
    begin,
    close,
    send,
    stop: () => stop.current?.abort(),
    give: (file: FileFor, to: CopyId | null) =>
      setFiles((all) => (all === null ? null : all.map((f) => (f.file === file.file ? { ...f, to } : f)))),
  };
}

export type FilesFor = ReturnType<typeof useFilesFor>;

export const nameOf = (row: PileRow | undefined): string =>
  row ? `${row.student.given} ${row.student.family}`.trim() : '';

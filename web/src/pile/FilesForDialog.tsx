import { type CopyId, FILE_LIMITS, type Pile, type PileRow } from '@jotmark/core';
import { useRef, useState } from 'react';
import { DialogShell } from '../frame/DialogShell.tsx';
import { FileInput } from '../frame/FileInput.tsx';
import { off } from '../frame/off.ts';
import { fileSize, plural } from '../time/words.ts';
import { type FileFor, type FilesFor, nameOf, takesFiles } from './useFilesFor.ts';

/** Files that came another way, each with whose it is: looked over before they are handed in for students. */
export function FilesForDialog({ pile, filesFor }: { pile: Pile; filesFor: FilesFor }) {
  const { files, progress, trouble } = filesFor;
  const some = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const past = pile.assignment.dueAt !== null && pile.assignment.dueAt < Date.now();
  const [onTime, setOnTime] = useState(past);
  if (!files) return null;
  const going = files.filter((f) => f.to !== null);
  const students = new Set(going.map((f) => f.to)).size;
  const nobody = files.filter((f) => f.to === null && !f.double && f.late === null).length;
  return (
    <DialogShell open title="Hand in for students" width="wide" onClose={filesFor.close}>
      <p className="mt-2 text-soft">
        For scans, photos and whatever reached you another way. Students are told, see their file, and can
        still take it back before you begin to mark.
      </p>
      {files.length === 0 ? (
        <p className="mt-4">
          Choose files, or a folder of them. Each finds its student by the name of the file or of the folder
          it lies in; you look at it before anything is handed in.
        </p>
      ) : (
        <ol className="mt-4 min-h-0 divide-y divide-line overflow-y-auto" aria-label="Files">
          {files.map((f, i) => (
            <FileRow key={`${i} ${f.path}`} f={f} rows={pile.rows} onGive={(to) => filesFor.give(f, to)} />
          ))}
        </ol>
      )}
      {nobody > 0 && (
        <p className="mt-3 text-caution">
          {plural(nobody, 'file is', 'files are')} nobody’s yet: choose the student, or leave{' '}
          {nobody === 1 ? 'it' : 'them'} out.
        </p>
      )}
      {trouble.length > 0 && (
        <div role="alert" className="mt-3 text-caution">
          {trouble.map((t) => (
            <p key={t}>{t}</p>
          ))}
        </div>
      )}
      {past && files.length > 0 && (
        <label className="mt-3 flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-action"
            checked={onTime}
            onChange={(e) => setOnTime(e.target.checked)}
          />
          It came in on time
        </label>
      )}
      <FileInput at={some} label="Files to hand in" multiple onFiles={(chosen) => filesFor.begin(chosen)} />
      <FileInput at={folder} label="Folder to hand in" folder onFiles={(chosen) => filesFor.begin(chosen)} />
      <div className="mt-5 flex flex-wrap justify-end gap-3">
        {progress ? (
          <>
            <p role="status" className="mr-auto self-center">
              Handing in: {progress.done} of {plural(progress.total, 'student', 'students')} …
            </p>
            <button type="button" className="quiet" onClick={filesFor.stop}>
              Stop
            </button>
          </>
        ) : (
          <>
            <button type="button" className="quiet" onClick={() => some.current?.click()}>
              Choose files …
            </button>
            <button type="button" className="quiet mr-auto" onClick={() => folder.current?.click()}>
              Choose a folder …
            </button>
            <button type="button" className="quiet" onClick={filesFor.close}>
              Cancel
            </button>
            {files.length > 0 && (
              <button
                type="button"
                className="act"
                {...off(going.length === 0 && 'No file has a student yet: choose them above.')}
                onClick={() => filesFor.send(past && onTime)}
              >
                {students === 1
                  ? `Hand in ${plural(going.length, 'file', 'files')} for ${nameOf(pile.rows.find((r) => r.copyId === going[0]!.to))}`
                  : `Hand in ${plural(going.length, 'file', 'files')} for ${plural(students, 'student', 'students')}`}
              </button>
            )}
          </>
        )}
      </div>
    </DialogShell>
  );
}

function FileRow({
  f,
  rows,
  onGive,
}: {
  f: FileFor;
  rows: readonly PileRow[];
  onGive(to: CopyId | null): void;
}) {
  const tooBig = f.file.size > FILE_LIMITS.bytes;
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1.5">
      <span className="min-w-0 flex-1">
        <span className="block truncate font-semibold">{f.path}</span>
        <span className="text-sm text-soft">
          {fileSize(f.file.size)}
          {f.double && <span className="text-caution"> · the same name and size as another file here</span>}
          {f.late && f.to === null && <span className="text-caution"> · {f.late} has handed in already</span>}
          {tooBig && (
            <span className="text-caution">
              {' '}
              · larger than {FILE_LIMITS.bytes / 1024 / 1024} MB: it cannot be taken
            </span>
          )}
        </span>
      </span>
      <select
        className="field !w-64"
        aria-label={`Student of ${f.path}`}
        value={f.to ?? ''}
        onChange={(e) => onGive((e.target.value || null) as CopyId | null)}
      >
        <option value="">nobody: leave it out</option>
        {rows.map((r) => (
          <option key={r.copyId} value={r.copyId} disabled={!takesFiles(r)}>
            {nameOf(r)}
            {!takesFiles(r) && ' (handed in already)'}
          </option>
        ))}
      </select>
    </li>
  );
}

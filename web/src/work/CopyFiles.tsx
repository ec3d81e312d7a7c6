import { type DocumentState, FILE_LIMITS, type Work } from '@jotmark/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link2, Upload } from 'lucide-react';
import { useId, useRef, useState } from 'react';
import { CallFailed, call } from '../api/call.ts';
import { sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { toldAndRead } from '../ask/stale.ts';
import { useAtOnce } from '../ask/useAtOnce.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { useFilesAnywhere } from '../frame/files-anywhere.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { withScheme } from '../paper/about-file.ts';
import { plural } from '../time/words.ts';
import { FileLine, type FileListProps } from './FileLine.tsx';

const SortableFiles = onDemand(() => import('./SortableFiles.tsx').then((m) => m.default), {
  quiet: true,
  until: (p) => <Lines {...p} />,
});

/** Files, pictures and links that go along with a copy, in the student's order. */
export function CopyFiles({ work, readOnly }: { work: Work; readOnly: boolean }) {
  const client = useQueryClient();
  const copyId = work.row.copyId;
  const fresh = () => toldAndRead(client, 'copyChanged', { copyId });
  const remove = useMutation({
    mutationFn: (file: DocumentState) => call('removeFile', { params: { copyId, documentId: file.id } }),
    onSettled: fresh,
  });
  const order = useMutation({
    mutationFn: (files: readonly DocumentState[]) =>
      call('orderFiles', { params: { copyId }, body: { order: files.map((f) => f.id) } }),
    onSettled: fresh,
  });
  const [files, setFiles] = useAtOnce<readonly DocumentState[]>(work.files, order.mutateAsync);
  const trouble = remove.error ?? order.error;
  return (
    <section aria-label="Your files" className="mt-5 border-t border-line pt-4">
      <h2 className="font-bold">{work.sheets.length ? 'Files that go along' : 'Your files'}</h2>
      {files.length > 0 && (
        <FileList
          files={files}
          readOnly={readOnly}
          onOrder={setFiles}
          onRemove={(file) => remove.mutate(file)}
        />
      )}
      {trouble && (
        <p role="alert" className="mt-2 text-caution">
          {sentenceOf(trouble)}
        </p>
      )}
      {!readOnly && <Drop work={work} onAdded={fresh} />}
    </section>
  );
}

/** The files in their order; what sorts them is loaded when there are several. */
function FileList(p: FileListProps) {
  return p.readOnly || p.files.length < 2 ? <Lines {...p} /> : <SortableFiles {...p} />;
}

function Lines({ files, readOnly, onRemove }: FileListProps) {
  return (
    <ol className="mt-2 space-y-1.5">
      {files.map((file) => (
        <FileLine key={file.id} file={file} {...(readOnly ? {} : { onRemove: () => onRemove(file) })} />
      ))}
    </ol>
  );
}

interface Sending {
  readonly name: string;
  /** How much of it is sent, 0…1. */
  readonly share: number;
  /** How many files are looked at before it; null: it is its turn. */
  readonly ahead: number | null;
  readonly stop: AbortController;
}

/** Where a file is on its way. */
function wayOf({ name, share, ahead }: Sending): string {
  if (share < 1) return `Sending “${name}” …`;
  return ahead ? `“${name}” has arrived` : `Looking at “${name}” …`;
}

function Drop({ work, onAdded }: { work: Work; onAdded(): void }) {
  const input = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState<Sending | null>(null);
  const [trouble, setTrouble] = useState<readonly { readonly file: File; readonly sentence: string }[]>([]);
  const copyId = work.row.copyId;

  const addOne = async (file: File): Promise<void> => {
    if (file.size > FILE_LIMITS.bytes)
      throw new CallFailed('file-too-big', { name: file.name, most: FILE_LIMITS.bytes });
    const stop = new AbortController();
    setSending({ name: file.name, share: 0, ahead: null, stop });
    const show = (share: number, ahead: number | null) => setSending({ name: file.name, share, ahead, stop });
    await sendFiles('addFile', { copyId }, file, {
      onSent: (share) => show(share, null),
      onProgress: ({ ahead }) => show(1, ahead),
      signal: stop.signal,
    });
  };
  const add = async (files: readonly File[]) => {
    if (!files.length || sending) return;
    const wrong: { file: File; sentence: string }[] = [];
    for (const file of files) {
      try {
        await addOne(file);
        onAdded();
      } catch (error) {
        const cut = error instanceof CallFailed && error.code === 'upload-cut-off';
        const sentence = sentenceOf(cut ? new CallFailed('upload-cut-off', { name: file.name }) : error);
        wrong.push({ file, sentence });
      }
      setTrouble([...wrong]);
    }
    setSending(null);
    onAdded();
  };
  const over = useFilesAnywhere(sending ? null : add);
  return (
    <div
      className={`mt-3 grid min-h-36 grid-cols-[minmax(0,1fr)] place-items-center rounded-xl border-2 border-dashed p-4 text-center ${over ? 'border-action bg-action-wash' : 'border-line-strong'}`}
    >
      {sending ? (
        <div role="status" className="w-full">
          <p className="truncate">{wayOf(sending)}</p>
          {sending.ahead ? (
            <p className="text-sm text-soft">
              {plural(sending.ahead, 'file is', 'files are')} before it in the queue.
            </p>
          ) : null}
          {sending.share < 1 && <progress className="my-3 w-full" value={sending.share} max={1} />}
          {sending.share < 1 && (
            <button type="button" className="quiet" onClick={() => sending.stop.abort()}>
              Stop
            </button>
          )}
        </div>
      ) : (
        <div className="w-full">
          <Upload size={24} aria-hidden="true" className="mx-auto text-soft" />
          <p className="mt-1.5 font-bold">Drag files or photos here</p>
          <p className="mb-3 text-sm text-soft">
            PDF, photo, document, sound or film, up to {FILE_LIMITS.bytes / 1024 / 1024} MB each
          </p>
          <button type="button" className="quiet" onClick={() => input.current?.click()}>
            Choose files
          </button>
          <FileInput at={input} multiple label="Files to add" onFiles={(files) => add(files)} />
          <AddLink work={work} onAdded={onAdded} />
          {trouble.map(({ file, sentence }) => (
            <div key={sentence} className="mt-3 text-caution">
              <p role="alert">{sentence}</p>
              <button type="button" className="mr-4 text-sm underline" onClick={() => add([file])}>
                Try again
              </button>
              <button
                type="button"
                className="text-sm underline"
                onClick={() => setTrouble(trouble.filter((t) => t.file !== file))}
              >
                Dismiss
              </button>
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

function AddLink({ work, onAdded }: { work: Work; onAdded(): void }) {
  const field = useId();
  const [open, setOpen] = useState(false);
  const [url, setUrl] = useState('');
  const add = useMutation({
    mutationFn: () =>
      call('addLink', { params: { copyId: work.row.copyId }, body: { url: withScheme(url), name: '' } }),
    onSuccess: () => {
      setUrl('');
      setOpen(false);
      onAdded();
    },
  });
  if (!open)
    return (
      <button
        type="button"
        className="mt-3 inline-flex items-center gap-1.5 text-action underline"
        onClick={() => setOpen(true)}
      >
        <Link2 size={16} aria-hidden="true" /> Add a link instead
      </button>
    );
  return (
    <form
      className="mt-3 text-left"
      onSubmit={(e) => {
        e.preventDefault();
        add.mutate();
      }}
    >
      <label htmlFor={field} className="text-sm text-soft">
        Address of the link
      </label>
      <input
        id={field}
        className="field"
        value={url}
        inputMode="url"
        onChange={(e) => setUrl(e.target.value)}
      />
      {add.error && (
        <p role="alert" className="mt-1 text-sm text-caution">
          That is not an address that can be opened. It should look like https://example.org/page.
        </p>
      )}
      <button type="submit" className="quiet mt-2" disabled={!url.trim()}>
        Add the link
      </button>
    </form>
  );
}

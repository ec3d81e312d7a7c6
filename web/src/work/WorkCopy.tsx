import { CopyId, type DocumentState, FILE_LIMITS, type Work } from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { FileText, Upload, X } from 'lucide-react';
import { useRef, useState } from 'react';
import { useParams } from 'react-router';
import { addressOf, CallFailed, call, upload } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { fileSize, lateWords, plural } from '../time/words.ts';
import { MarkedCopy } from './MarkedCopy.tsx';

/** Who comes: the student with a finished file, or curious about what came back. */
export function WorkCopy() {
  const parsed = CopyId.safeParse(useParams().copyId);
  const work = useQuery({
    queryKey: ['work', parsed.data],
    queryFn: () => call('work', { params: { copyId: parsed.data! } }),
    enabled: parsed.success,
    refetchInterval: 30_000,
  });
  const title = work.data?.row.assignment.title ?? 'Work';
  return (
    <div className="flex min-h-full flex-col">
      <TopBar crumbs={[{ text: 'My work', to: '/' }, { text: title }]} />
      {!parsed.success || work.error ? (
        <Trouble error={work.error ?? new CallFailed('not-found')} again={() => work.refetch()} />
      ) : !work.data ? (
        <Waiting what="your copy" />
      ) : work.data.handBack ? (
        <MarkedCopy
          work={work.data}
          handBack={work.data.handBack}
          handInAgain={<HandInSteps work={work.data} />}
        />
      ) : (
        <main className="mx-auto w-full max-w-2xl p-5">
          <HandInSteps work={work.data} />
        </main>
      )}
    </div>
  );
}

/** Add the file, look at it, hand it in. */
function HandInSteps({ work }: { work: Work }) {
  const { clock } = useHere();
  const { row } = work;
  const now = Date.now();
  if (row.place === 'in' || row.place === 'in-again')
    return (
      <section className="rounded-lg bg-raised p-6 shadow-sm" aria-label="Handed in">
        <p className="text-xl font-bold">{row.place === 'in' ? 'Handed in' : 'Handed in again'}</p>
        <p className="mt-1 text-soft">
          {work.handIn && clock.moment(work.handIn.handedInAt, now)}
          {row.late > 0 && <span className="text-caution"> · {lateWords(row.late)}</span>}
        </p>
        {work.handIn?.documents.map((d) => (
          <FileLine key={d.id} file={d} />
        ))}
        <p className="mt-4 text-soft">
          Your teacher has it now. You see marks and grade when everyone gets theirs back.
        </p>
      </section>
    );
  return (
    <section aria-label="Hand in">
      {row.assignment.dueAt !== null && row.place === 'with-student' && (
        <p className={row.overdue ? 'text-caution' : 'text-soft'}>
          {row.overdue
            ? `Was due ${clock.moment(row.assignment.dueAt, now)}. You can still hand in; it counts as late.`
            : `Due ${clock.moment(row.assignment.dueAt, now)}`}
        </p>
      )}
      {work.instructions && <p className="mt-2 text-lg whitespace-pre-wrap">{work.instructions}</p>}
      {work.ready ? <Ready work={work} file={work.ready} /> : <Drop work={work} />}
    </section>
  );
}

function FileLine({ file, children }: { file: DocumentState; children?: React.ReactNode }) {
  return (
    <p className="mt-3 flex items-center gap-3">
      <FileText size={22} aria-hidden="true" className="shrink-0 text-soft" />
      <span className="min-w-0">
        <span className="block truncate font-semibold">{file.name}</span>
        <span className="text-sm text-soft">
          {plural(file.pages, 'page', 'pages')}, {fileSize(file.bytes)}
        </span>
      </span>
      {children}
    </p>
  );
}

function Ready({ work, file }: { work: Work; file: DocumentState }) {
  const client = useQueryClient();
  const copyId = work.row.copyId;
  const fresh = () => {
    client.invalidateQueries({ queryKey: ['work'] });
  };
  const handIn = useMutation({
    mutationFn: () => call('handIn', { params: { copyId }, body: { documentId: file.id } }),
    onSuccess: (next) => {
      client.setQueryData(['work', copyId], next);
      fresh();
    },
  });
  const remove = useMutation({
    mutationFn: () => call('removeFile', { params: { copyId } }),
    onSuccess: fresh,
  });
  const trouble = handIn.error ?? remove.error;
  return (
    <div className="mt-4 rounded-lg bg-raised p-6 shadow-sm">
      <p className="text-xl font-bold">Ready to hand in</p>
      <FileLine file={file}>
        <button
          type="button"
          className="ml-auto grid size-10 place-items-center rounded text-soft hover:text-caution"
          aria-label={`Take ${file.name} away`}
          onClick={() => remove.mutate()}
        >
          <X size={20} aria-hidden="true" />
        </button>
      </FileLine>
      {trouble && (
        <p role="alert" className="mt-3 text-caution">
          {sentenceOf(trouble)}
        </p>
      )}
      <button
        type="button"
        className="act mt-5 w-full"
        disabled={handIn.isPending}
        onClick={() => handIn.mutate()}
      >
        Hand in
      </button>
    </div>
  );
}

function Drop({ work }: { work: Work }) {
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState<{ name: string; share: number; stop: AbortController } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const copyId = work.row.copyId;

  const add = async (files: FileList | null) => {
    const file = files?.[0];
    if (!file || sending) return;
    if (files.length > 1)
      return setTrouble(
        'Please add one PDF. Nothing was added. If it is in several files, print them into one.',
      );
    setTrouble(
      file.size > FILE_LIMITS.bytes
        ? sentenceOf(new CallFailed('file-too-big', { name: file.name, most: FILE_LIMITS.bytes }))
        : null,
    );
    if (file.size > FILE_LIMITS.bytes) return;
    const stop = new AbortController();
    setSending({ name: file.name, share: 0, stop });
    try {
      await upload(
        addressOf('addFile', { copyId }),
        file,
        (share) => setSending({ name: file.name, share, stop }),
        stop.signal,
      );
      await client.invalidateQueries({ queryKey: ['work'] });
    } catch (error) {
      setTrouble(
        sentenceOf(
          error instanceof CallFailed && error.code === 'upload-cut-off'
            ? new CallFailed('upload-cut-off', { name: file.name })
            : error,
        ),
      );
    } finally {
      setSending(null);
    }
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is a second way; the button is the first
    <div
      className={`mt-4 grid min-h-72 place-items-center rounded-xl border-2 border-dashed p-8 text-center ${over ? 'border-action bg-action-wash' : 'border-line-strong bg-raised'}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        add(e.dataTransfer.files);
      }}
    >
      {sending ? (
        <div role="status" className="w-72">
          <p className="truncate">
            {sending.share < 1 ? `Sending “${sending.name}”` : `Looking at “${sending.name}”`} …
          </p>
          <progress className="my-3 w-full accent-action" value={sending.share} max={1} />
          <button type="button" className="quiet" onClick={() => sending.stop.abort()}>
            Stop
          </button>
        </div>
      ) : (
        <div>
          <Upload size={30} aria-hidden="true" className="mx-auto text-soft" />
          <p className="mt-3 text-lg font-bold">Drag your PDF here</p>
          <p className="mb-4 text-soft">
            up to {FILE_LIMITS.bytes / 1024 / 1024} MB and {FILE_LIMITS.pages} pages
          </p>
          <button type="button" className="act" onClick={() => input.current?.click()}>
            Choose a file
          </button>
          <input
            ref={input}
            type="file"
            accept="application/pdf,.pdf"
            className="sr-only"
            aria-label="Your PDF"
            tabIndex={-1}
            onChange={(e) => {
              add(e.target.files);
              e.target.value = '';
            }}
          />
          {trouble && (
            <p role="alert" className="mx-auto mt-5 max-w-md text-caution">
              {trouble}
            </p>
          )}
        </div>
      )}
    </div>
  );
}

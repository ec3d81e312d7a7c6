import type { CopyId, Pile } from '@jotmark/core';
import { type DragEvent, type ReactNode, useState } from 'react';
import { onDemand } from '../frame/on-demand.tsx';
import { toast } from '../frame/toast.ts';
import { type FilesFor, nameOf, takesFiles } from './useFilesFor.ts';

const FilesForDialog = onDemand(() => import('./FilesForDialog.tsx').then((m) => m.FilesForDialog));

const hasFiles = (e: DragEvent) => e.dataTransfer.types.includes('Files');
const copyUnder = (e: DragEvent): CopyId | null =>
  (((e.target as Element).closest('[data-copy]') as HTMLElement | null)?.dataset.copy as
    | CopyId
    | undefined) ?? null;

/** The copies of a pile, on which files can be dropped: on one line for its student, elsewhere for whom their names say. */
export function FilesDrop({
  pile,
  filesFor,
  children,
}: {
  pile: Pile;
  filesFor: FilesFor;
  children: ReactNode;
}) {
  /** Over which copy files are held; empty: over none of them; null: none are held. */
  const [over, setOver] = useState<CopyId | '' | null>(null);
  const held = pile.rows.find((r) => r.copyId === over);
  const drop = async (e: DragEvent) => {
    const only = copyUnder(e);
    const row = pile.rows.find((r) => r.copyId === only);
    e.preventDefault();
    setOver(null);
    if (pile.blind) {
      toast.error(
        'Names are hidden in this pile: switch “Mark blind” off to hand in for students. Nothing was taken.',
      );
      return;
    }
    if (row && !takesFiles(row)) {
      toast.error(`${nameOf(row)} has handed in already. Nothing was taken.`);
      return;
    }
    // What is dropped is read now, before the browser forgets it: folders with all that lies in them.
    const { fromEvent } = await import('file-selector');
    filesFor.begin(
      (await fromEvent(e.nativeEvent)).filter((f): f is File => f instanceof File),
      only,
    );
  };
  return (
    <section
      className={`relative min-w-[640px] flex-1 rounded-lg bg-raised px-4 pb-2 shadow-sm max-sm:w-full max-sm:min-w-0 ${over === null ? '' : 'outline-2 outline-action'}`}
      aria-label="Copies"
      onDragOver={(e) => {
        if (!hasFiles(e)) return;
        e.preventDefault();
        setOver(copyUnder(e) ?? '');
      }}
      onDragLeave={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget as Node | null)) setOver(null);
      }}
      onDrop={(e) => hasFiles(e) && drop(e)}
    >
      {over !== null && (
        <p
          className="sticky top-0 z-20 -mx-4 rounded-t-lg bg-action px-4 py-2 font-semibold text-white"
          role="status"
        >
          {pile.blind
            ? 'Names are hidden in this pile: nothing can be handed in for a student.'
            : held
              ? takesFiles(held)
                ? `Hand in for ${nameOf(held)}`
                : `${nameOf(held)} has handed in already`
              : 'Hand in for the students whose names the files have'}
        </p>
      )}
      {children}
      {filesFor.files && <FilesForDialog pile={pile} filesFor={filesFor} />}
    </section>
  );
}

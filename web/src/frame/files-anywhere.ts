import { useEffect, useRef, useState } from 'react';

const hasFiles = (e: DragEvent): boolean => e.dataTransfer?.types.includes('Files') ?? false;

/** Drags that nothing of the page takes: they are kept from replacing it. */
const untaken = new WeakSet<Event>();

/** From now on a file that is dropped where none is taken does nothing, instead of opening in place of the page. */
export function guardDrops(): void {
  for (const kind of ['dragover', 'drop'] as const)
    window.addEventListener(kind, (e) => {
      if (!hasFiles(e) || e.defaultPrevented) return;
      e.preventDefault();
      untaken.add(e);
      if (e.dataTransfer) e.dataTransfer.dropEffect = 'none';
    });
}

/**
 * Files that are dropped anywhere on the page are taken, except where something on it takes them by itself (an editor its pictures). Gives whether some are held
 * over it now. `take` null: none are taken now.
 */
export function useFilesAnywhere(take: ((files: readonly File[]) => void) | null): boolean {
  const [over, setOver] = useState(false);
  const newest = useRef(take);
  newest.current = take;
  const on = take !== null;
  useEffect(() => {
    if (!on) return;
    const mine = (e: DragEvent) => hasFiles(e) && (!e.defaultPrevented || untaken.has(e));
    const overPage = (e: DragEvent) => {
      if (!mine(e)) return setOver(false);
      e.preventDefault();
      if (e.dataTransfer) e.dataTransfer.dropEffect = 'copy';
      setOver(true);
    };
    const left = (e: DragEvent) => e.relatedTarget === null && setOver(false);
    const dropped = (e: DragEvent) => {
      setOver(false);
      if (!mine(e)) return;
      e.preventDefault();
      newest.current?.([...(e.dataTransfer?.files ?? [])]);
    };
    window.addEventListener('dragover', overPage);
    window.addEventListener('dragleave', left);
    window.addEventListener('drop', dropped);
    return () => {
      window.removeEventListener('dragover', overPage);
      window.removeEventListener('dragleave', left);
      window.removeEventListener('drop', dropped);
    };
  }, [on]);
  return over;
}

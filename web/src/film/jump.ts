import type { DocumentId } from '@jotmark/core';

type Jump = (ms: number) => void;
const films = new Map<DocumentId, Jump>();

/** A film that is shown can be jumped in, by whoever knows a moment of it. Gives how to end that. */
export function canJump(document: DocumentId, jump: Jump): () => void {
  films.set(document, jump);
  return () => {
    if (films.get(document) === jump) films.delete(document);
  };
}

/** Brings a moment of a film that is shown; false where it is not shown. */
export function jumpTo(document: DocumentId, ms: number): boolean {
  const jump = films.get(document);
  jump?.(ms);
  return jump !== undefined;
}

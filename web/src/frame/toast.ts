import type { ReactNode } from 'react';
import type { ExternalToast } from 'sonner';

type Id = string | number;
type Kind = 'error' | 'success';

let wanted = false;
const watchers = new Set<() => void>();
let ready: () => void;
/** Resolves when there is a place on the screen that shows them. */
const shown = new Promise<void>((resolve) => {
  ready = resolve;
});
let count = 0;

function show(kind: Kind | null, words: ReactNode, options: ExternalToast = {}): Id {
  const id = options.id ?? `toast-${++count}`;
  if (!wanted) {
    wanted = true;
    for (const tell of watchers) tell();
  }
  void Promise.all([import('sonner'), shown]).then(([{ toast: say }]) =>
    kind ? say[kind](words, { ...options, id }) : say(words, { ...options, id }),
  );
  return id;
}

/** A word in the corner that goes by itself. What shows it is loaded with the first: most visits have none. */
export const toast = Object.assign(
  (words: ReactNode, options?: ExternalToast): Id => show(null, words, options),
  {
    error: (words: ReactNode, options?: ExternalToast): Id => show('error', words, options),
    success: (words: ReactNode, options?: ExternalToast): Id => show('success', words, options),
    dismiss: (id: Id): void => {
      if (wanted) void Promise.all([import('sonner'), shown]).then(([{ toast: say }]) => say.dismiss(id));
    },
  },
);

/** For the place that shows them: whether any is wanted yet, and that it is there now. */
export const toastsWanted = {
  subscribe: (tell: () => void): (() => void) => {
    watchers.add(tell);
    return () => watchers.delete(tell);
  },
  now: (): boolean => wanted,
  shown: (): void => ready(),
};

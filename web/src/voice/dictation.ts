import type { Devices } from './devices.ts';

/** Why nothing is written down. */
export type Deaf = 'none' | 'refused' | 'away';

export const DEAF: Readonly<Record<Deaf, string>> = {
  none: 'This browser cannot write down what you say. Type the words instead.',
  refused:
    'Your browser does not let Jotmark write down what you say. Allow the microphone, or type the words.',
  away: 'Writing down what you say does not work just now; some browsers need a network for it. Type the words instead.',
};

export interface Hearing {
  /** What was heard so far and is not settled yet. */
  interim(words: string): void;
  /** Words that are settled. */
  final(words: string): void;
  deaf(why: Deaf): void;
}

/** Writes down what is said, until the function that it gives is called: then what is still open is settled. */
export function dictate({ Recognition }: Devices, hear: Hearing): () => void {
  if (!Recognition) {
    hear.deaf('none');
    return () => {};
  }
  const recognition = new Recognition();
  let over = false;
  let open = '';
  recognition.lang = document.documentElement.lang || 'en';
  recognition.continuous = true;
  recognition.interimResults = true;
  recognition.onresult = (e) => {
    open = '';
    for (let i = e.resultIndex; i < e.results.length; i++) {
      const result = e.results[i]!;
      const words = result[0]?.transcript.trim() ?? '';
      if (!words) continue;
      if (result.isFinal) hear.final(words);
      else open = `${open} ${words}`.trim();
    }
    hear.interim(open);
  };
  recognition.onerror = ({ error }) => {
    if (error === 'no-speech' || error === 'aborted') return;
    over = true;
    hear.deaf(error === 'not-allowed' || error === 'service-not-allowed' ? 'refused' : 'away');
  };
  // Browsers end it after a pause.
  recognition.onend = () => {
    if (!over) recognition.start();
  };
  try {
    recognition.start();
  } catch {
    hear.deaf('away');
  }
  return () => {
    over = true;
    if (open) hear.final(open);
    open = '';
    recognition.onresult = null;
    recognition.stop();
  };
}

const WISH = 'jotmark.writes-down';

/** Whether one wants what one records written down; null: never said. Browsers may send it to their makers for that, so they are not asked to unasked. */
export function wishesText(): boolean | null {
  try {
    const kept = localStorage.getItem(WISH);
    return kept === null ? null : kept === 'yes';
  } catch {
    return null;
  }
}

export function keepWish(on: boolean): void {
  try {
    localStorage.setItem(WISH, on ? 'yes' : 'no');
  } catch {
    // It is asked for anew the next time.
  }
}

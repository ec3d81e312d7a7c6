import { type Digest, isClip, type Recording } from '@jotmark/core';
import { use, useEffect, useState } from 'react';
import { addressOf } from '../api/call.ts';
import { outbox } from '../outbox/outbox.ts';
import { VoicesContext } from './playing.ts';

/** What the browser calls the kinds of file that Jotmark records. */
const PLAYS: Readonly<Record<Recording['type'], string>> = {
  'audio/ogg': 'audio/ogg; codecs=opus',
  'audio/mpeg': 'audio/mpeg',
  'audio/wav': 'audio/wav',
  'video/webm': 'video/webm',
  'video/mp4': 'video/mp4',
};

const signedIn = (file: Digest, plain: boolean) => addressOf(plain ? 'plainVoice' : 'voice', { file });

/** Whether this browser says that it cannot play it as it was recorded. */
function needsPlain(recording: Recording): boolean {
  const element = document.createElement(isClip(recording) ? 'video' : 'audio');
  return typeof element.canPlayType === 'function' && element.canPlayType(PLAYS[recording.type]) === '';
}

/**
 * Where a recording is played from: from this device while it waits to be sent, else from the server; in the form that everything opens where the browser
 * lacks the first, or failed to play it. Null: it is being looked for.
 */
export function useSource(recording: Recording): {
  readonly address: string | null;
  /** It could not be played: tries the other form. False: there is none to try. */
  fails(): boolean;
} {
  const [own, setOwn] = useState<string | null>(null);
  const [looked, setLooked] = useState(false);
  const [plain, setPlain] = useState(() => needsPlain(recording));
  const { addressFor = signedIn } = use(VoicesContext);
  const { file } = recording;
  useEffect(() => {
    let gone = false;
    let made: string | null = null;
    outbox.findBytes(file).then((kept) => {
      if (gone) return;
      if (kept) {
        made = URL.createObjectURL(new Blob([kept.bytes], { type: kept.type }));
        setOwn(made);
      }
      setLooked(true);
    });
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
      setOwn(null);
      setLooked(false);
    };
  }, [file]);
  return {
    address: looked ? (own ?? addressFor(file, plain)) : null,
    fails() {
      if (own || plain) return false;
      setPlain(true);
      return true;
    },
  };
}

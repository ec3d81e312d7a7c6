/** Why nothing is recorded, or no longer. */
export type Trouble =
  | 'no-microphone'
  | 'no-camera'
  | 'refused'
  | 'taken'
  | 'unplugged'
  | 'unable'
  | 'silent'
  | 'too-short'
  | 'not-made'
  | 'not-kept'
  | 'full';

/** What happened, what was kept, and what to do. */
export const TROUBLE: Readonly<Record<Trouble, string>> = {
  'no-microphone':
    'This device has no microphone that Jotmark can hear. Plug one in and press again; nothing was recorded.',
  'no-camera':
    'This device has no camera that Jotmark can see. You can record your voice alone; nothing was recorded.',
  refused:
    'Your browser does not let Jotmark listen. Allow the microphone in the browser’s bar, at the address, and press again; nothing was recorded.',
  taken: 'Another program took the microphone. What you said until then is kept.',
  unplugged: 'The microphone was unplugged. What you said until then is kept.',
  unable: 'This browser cannot record here. Words can be typed; nothing was recorded.',
  silent: 'Nothing was heard, so nothing was kept. Is the right microphone chosen, and is it switched on?',
  'too-short':
    'That was too short to say anything, so nothing was kept. Hold the key while you speak, or press it once.',
  'not-made':
    'The recording could not be made ready. It is kept on this device and is tried again when you open Jotmark next.',
  'not-kept':
    'This device has no room for what you say: until you stop it is only in this tab. Keep it open.',
  full: 'Five minutes are the most, so the recording stopped there. It is kept.',
};

/** A browser’s own word for it. */
export function troubleOf(error: unknown, clip: boolean): Trouble {
  const name = error instanceof Error || error instanceof DOMException ? error.name : '';
  if (name === 'NotAllowedError' || name === 'SecurityError') return 'refused';
  if (name === 'NotReadableError' || name === 'AbortError') return 'taken';
  if (name === 'NotFoundError' || name === 'OverconstrainedError')
    return clip ? 'no-camera' : 'no-microphone';
  return 'unable';
}

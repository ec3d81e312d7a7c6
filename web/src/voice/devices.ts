/** As much of the browser's dictation as is used here (W3C Web Speech API). */
export interface Recognition {
  lang: string;
  continuous: boolean;
  interimResults: boolean;
  onresult: ((e: RecognitionEvent) => void) | null;
  onerror: ((e: { readonly error: string }) => void) | null;
  onend: (() => void) | null;
  start(): void;
  stop(): void;
  abort(): void;
}
export interface RecognitionEvent {
  readonly resultIndex: number;
  readonly results: ArrayLike<ArrayLike<{ readonly transcript: string }> & { readonly isFinal: boolean }>;
}

/** What is used of a machine's devices: its own, or the stand-ins of the demo where it has none. */
export interface Devices {
  readonly media: Pick<MediaDevices, 'getUserMedia'> | null;
  readonly Recognition: (new () => Recognition) | null;
  /** Nobody speaks: a stand-in does. */
  readonly standIn: boolean;
}

interface StandIn {
  readonly mediaDevices: Pick<MediaDevices, 'getUserMedia'>;
  readonly Recognition: new () => Recognition;
}

const own = (): Devices => {
  const page = window as typeof window & Record<string, new () => Recognition>;
  return {
    media: navigator.mediaDevices ?? null,
    Recognition: page.SpeechRecognition ?? page.webkitSpeechRecognition ?? null,
    standIn: false,
  };
};

let standIn: Promise<Devices> | null = null;

/** Devices to record with. A stand-in is taken only where the server has them, and only on a machine without a microphone of its own. */
export async function devices(standIns: boolean): Promise<Devices> {
  const mine = own();
  if (!standIns) return mine;
  const there = await navigator.mediaDevices?.enumerateDevices().catch(() => []);
  if (there?.some((d) => d.kind === 'audioinput')) return mine;
  standIn ??= import(/* @vite-ignore */ `${location.origin}/stand-in/devices.js`).then(
    ({ mediaDevices, Recognition }: StandIn) => ({ media: mediaDevices, Recognition, standIn: true }),
  );
  return standIn.catch(() => {
    standIn = null;
    return mine;
  });
}

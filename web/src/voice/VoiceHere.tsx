import { onDemand } from '../frame/on-demand.tsx';

/** Loaded with the first recording that is shown: many copies have none. */
export const VoiceHere = onDemand(() => import('./VoicePlayer.tsx').then((m) => m.VoicePlayer));

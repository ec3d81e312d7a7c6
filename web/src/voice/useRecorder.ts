import { useSyncExternalStore } from 'react';
import { recorder } from './recorder-here.ts';
import type { RecorderState } from './recorder-state.ts';

/** One thing that the recorder says: who asks for it is rendered only when that is another. */
export const useRecorder = <K extends keyof RecorderState>(key: K): RecorderState[K] =>
  useSyncExternalStore(recorder.subscribe, () => recorder.state[key]);

/** What it is doing, and on what. */
export const useRecorderStanding = () => ({ phase: useRecorder('phase'), take: useRecorder('take') });

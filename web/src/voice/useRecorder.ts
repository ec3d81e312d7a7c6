import { useSyncExternalStore } from 'react';
import { type RecorderState, recorder } from './recorder.ts';

/** All that the recorder says, many times a second: for what shows its time and level. */
export const useRecorder = (): RecorderState =>
  useSyncExternalStore(recorder.subscribe, () => recorder.state);

/** Only what it is doing and on what: the same value for as long as that stays. */
export const useRecorderStanding = () => useSyncExternalStore(recorder.subscribe, () => recorder.standing);

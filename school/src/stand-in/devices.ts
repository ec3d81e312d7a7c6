import { standInCamera } from './camera.ts';
import { standInMicrophone } from './microphone.ts';
import type { SentenceName } from './sentences.ts';

/** Behind the interface of MediaDevices: a microphone before which somebody speaks, and a camera. Loaded by the app where a machine has none. */
export const mediaDevices = {
  async getUserMedia({ audio, video }: MediaStreamConstraints = {}): Promise<MediaStream> {
    return new MediaStream([
      ...(audio ? [standInMicrophone().track()] : []),
      ...(video ? [standInCamera()] : []),
    ]);
  },
};

/** Behind the interface of SpeechRecognition. */
export { StandInRecognition as Recognition } from './recognition.ts';

/** What the stand-in says next, by its name in `sentences.ts`. */
export const say = (name: SentenceName): void => standInMicrophone().say(name);

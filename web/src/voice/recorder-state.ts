import type { CopyId, HandInId, PersonId } from '@jotmark/core';
import type { Take, VoicePlace } from './takes.ts';
import type { Trouble } from './trouble.ts';

/** What the recorder is doing, as whoever shows it sees it. */
export interface RecorderState {
  readonly phase: 'idle' | 'opening' | 'recording' | 'settling';
  readonly take: Take | null;
  /** Of what is recorded: how long it is, in whole seconds. How loud it is now is told apart, see `onLevel`. */
  readonly seconds: number;
  /** What was heard last and is not settled yet. */
  readonly heard: string;
  /** Of a clip: what the camera sees. */
  readonly sees: MediaStream | null;
  readonly standIn: boolean;
  /** Whether what is said is written down; null: this browser cannot. */
  readonly writes: boolean | null;
}

export const IDLE: RecorderState = {
  phase: 'idle',
  take: null,
  seconds: 0,
  heard: '',
  sees: null,
  standIn: false,
  writes: null,
};

export interface Wish {
  readonly personId: PersonId;
  readonly copyId: CopyId;
  readonly handInId: HandInId;
  readonly place: VoicePlace;
  readonly clip: boolean;
  readonly standIns: boolean;
}

/** What became of a recording. */
export type RecorderNews =
  | { readonly of: 'kept'; readonly take: Take; readonly recovered: boolean }
  | { readonly of: 'nothing'; readonly take: Take; readonly why: Trouble }
  | { readonly of: 'trouble'; readonly why: Trouble };

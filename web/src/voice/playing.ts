import type { Digest, Recording } from '@jotmark/core';
import { createContext } from 'react';

/** What is played on this view, and what becomes of it. */
export interface VoicesHere {
  /** How far each was heard, in ms: as far as ever, and where one stopped. */
  readonly heard: ReadonlyMap<Digest, { readonly reached: number; readonly left: number }>;
  /** Whether they were heard by somebody else: a teacher sees it, a student's own hearing is kept. */
  readonly tells: 'nothing' | 'that-it-was-heard';
  /** Where recordings are fetched by who is not signed in; left out: as one who is. */
  addressFor?(file: Digest, plain: boolean): string;
  /** The pen is down: while one writes nothing else moves. */
  busy?(): boolean;
  onHeard?(file: Digest, reached: number, left: number): void;
  /** A recording with a talk plays: where it is now, in ms; null: it no longer does. */
  onTalk?(recording: Recording, ms: number | null): void;
}

export const VoicesContext = createContext<VoicesHere>({ heard: new Map(), tells: 'nothing' });

/** The note that is being spoken just now, by its id; null: none. */
export const SpokenContext = createContext<string | null>(null);

/** Only one recording is heard at a time. */
let speaking: HTMLMediaElement | null = null;
export function speaks(element: HTMLMediaElement): void {
  if (speaking && speaking !== element) speaking.pause();
  speaking = element;
}

/** How fast recordings are played: kept in this browser, one wish for all. */
export const SPEEDS = [1, 1.25, 1.5, 2] as const;
const SPEED = 'jotmark.voice-speed';
export function keptSpeed(): number {
  try {
    const kept = Number(localStorage.getItem(SPEED));
    return SPEEDS.find((s) => s === kept) ?? 1;
  } catch {
    return 1;
  }
}
export function keepSpeed(speed: number): void {
  try {
    localStorage.setItem(SPEED, String(speed));
  } catch {
    // The next one begins at the usual speed.
  }
}

const placeOf = (file: string) => `jotmark.heard.${file.slice(0, 16)}`;

/** Where one stopped on this device, in ms; null: never heard here. */
export function keptPlace(file: string): number | null {
  try {
    const kept = localStorage.getItem(placeOf(file));
    return kept === null ? null : Number(kept) || 0;
  } catch {
    return null;
  }
}
export function keepPlace(file: string, ms: number): void {
  try {
    localStorage.setItem(placeOf(file), String(Math.round(ms)));
  } catch {
    // It begins from the front then.
  }
}

import type { ErrorCode } from '@jotmark/core';
import { CallFailed } from './call.ts';

type Facts = Readonly<Record<string, string | number>>;

const megabytes = (n: string | number | undefined) => `${Math.round(Number(n) / 1024 / 1024)} MB`;
const called = (f: Facts) => (f.name ? `“${f.name}”` : 'This file');

/** What happened, what was kept, what to do: one sentence or two for each code of the contract. */
const SENTENCES: Readonly<Record<ErrorCode | 'offline', (facts: Facts) => string>> = {
  offline: () =>
    'There is no connection to Jotmark. What you did is kept on this device; it goes on as soon as the connection is back.',
  'bad-input': (f) =>
    `Something was not as it should be${f.what ? ` (${f.what})` : ''}. Nothing was changed. Reload the page and try again.`,
  'not-signed-in': () => 'You are signed out. What you did is kept on this device. Sign in again to go on.',
  'wrong-password': () => 'Login and password do not fit together. Check both and try again.',
  'too-many-attempts': (f) =>
    `Too many wrong passwords. Wait ${f.minutes ?? 15} minutes, or ask your teacher for a new one.`,
  'not-yours': () => 'This page is not for your account. Nothing was changed.',
  'not-found': () =>
    'There is nothing here that you can see. It may have been taken away, or the address is not right.',
  'stale-page': () =>
    'This page is from an earlier sign-in. What you did is kept on this device. Reload the page to go on.',
  'file-empty': (f) =>
    `${called(f)} is empty. Nothing was handed in. Save it again from the program it comes from, then add it here.`,
  'file-too-big': (f) =>
    `${called(f)} is larger than ${megabytes(f.most)}. It was not kept. Save it with smaller pictures, then add it again.`,
  'file-not-pdf': (f) =>
    `${called(f)} is not a PDF, whatever its name says. It was not kept. Save or print it as PDF, then add that.`,
  'file-damaged': (f) =>
    `${called(f)} is damaged: parts of it are missing, perhaps since a download was cut off. It was not kept. Save it again, then add it here.`,
  'file-password': (f) =>
    `${called(f)} asks for a password, so your teacher could not open it. It was not kept. Save it without a password, then add it again.`,
  'file-too-many-pages': (f) =>
    `${called(f)} has ${f.pages} pages; at most ${f.most} can be handed in. It was not kept. Save only the pages that belong to this work.`,
  'file-page-too-big': (f) =>
    `${called(f)} has a page longer than 5 metres. It was not kept. Save it on A4 or letter paper, then add it again.`,
  'file-slow': (f) =>
    `${called(f)} takes too long to open. It was not kept. Print it to a new PDF, then add that one.`,
  'upload-cut-off': (f) =>
    `The upload of ${f.name ? `“${f.name}”` : 'your file'} was cut off half way. Nothing of it was kept; what was there before still is. Add the file again.`,
  'already-handed-in': () =>
    'Your copy is with your teacher already. What you handed in stays as it is; you can hand in again when it comes back.',
  'nothing-to-hand-in': () =>
    'There is no file to hand in, or it was changed in another window. Nothing was handed in. Look at the file and try again.',
  'nothing-marked': () =>
    'None of the chosen copies is marked, so none was handed back. Mark them at the desk first.',
  'database-away': () =>
    'Jotmark cannot reach its database just now. What you did is kept on this device and is sent again by itself.',
  busy: () =>
    'Jotmark cannot store anything just now; its disk may be full. What you did is kept on this device. Tell whoever looks after Jotmark at your school.',
  unexpected: () =>
    'Something went wrong inside Jotmark. What you did is kept on this device. Try again; if it stays, tell whoever looks after Jotmark at your school.',
};

export function sentenceOf(error: unknown): string {
  return error instanceof CallFailed ? SENTENCES[error.code](error.facts) : SENTENCES.unexpected({});
}

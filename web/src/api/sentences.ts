import type { ErrorCode } from '@jotmark/core';
import { CallFailed } from './call.ts';

type Facts = Readonly<Record<string, string | number>>;

const megabytes = (n: string | number | undefined) => `${Math.round(Number(n) / 1024 / 1024)} MB`;
const waitWords = (seconds: number) =>
  seconds <= 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`;
const called = (f: Facts) => (f.name ? `“${f.name}”` : 'This file');

/**
 * What happened, and what to do: one sentence or two for each code of the contract. None says that something is kept on this device: that is for
 * the outbox to say, which knows (`SaveSign`).
 */
const SENTENCES: Readonly<Record<ErrorCode | 'offline', (facts: Facts) => string>> = {
  offline: () => 'There is no connection to Jotmark just now. Try again when it is back.',
  'bad-input': (f) =>
    `Something was not as it should be${f.what ? ` (${f.what})` : ''}. Nothing was changed. Reload the page and try again.`,
  'not-signed-in': () => 'You are signed out. Sign in again to go on.',
  'wrong-password': () => 'Login or password is wrong. Check both and try again.',
  'too-many-attempts': (f) =>
    `That was wrong too often. Try again in ${waitWords(Number(f.seconds ?? 60))}; until then nothing is tried. If you have forgotten it, ask for a new password.`,
  'second-step': () => 'Now type the six digits that the app on your phone shows for Jotmark.',
  'second-step-needed': () =>
    'Your school asks for a second step when you sign in. Set it up on “My account” first; then everything is open to you.',
  'wrong-code': () =>
    'That code is not right any more. Nothing was changed. Type the one that your app shows now.',
  'step-already-on': () =>
    'A second step is on already. Nothing was changed. Turn it off first to set up another phone.',
  'not-yours': () => 'This page is not for your account. Nothing was changed.',
  'not-found': () =>
    'There is nothing here that you can see. It may have been deleted, or the address is not right.',
  'stale-page': () =>
    'This page is from an earlier sign-in, and nothing was changed. Reload the page to go on.',
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
  'too-slow': (f) =>
    `Hardly anything of it came in for ${f.seconds ?? 30} seconds, so it was ended and not kept. Try again where the connection is better.`,
  'too-many-lines': (f) =>
    `Jotmark is open in more than ${f.most} windows of yours. This one does not hear of what is new by itself; close some, then reload it.`,
  'too-much-at-once': (f) =>
    f.what === 'joins'
      ? `You have typed ${f.most} codes in an hour, so this one was not tried. Ask your teacher for the code, and go on in ${f.minutes ?? 60} minutes.`
      : `That is more than ${f.most} ${f.what === 'messages' ? 'messages' : 'files'} in an hour, so this one was not kept; all before it were. Go on in ${f.minutes ?? 60} minutes.`,
  'keeps-too-much': (f) =>
    `Your files take up ${f.gigabytes} GB here, which is all that one person can have. This one was not kept. Delete what you do not need; it makes room after a week.`,
  'upload-cut-off': (f) =>
    `The upload of ${f.name ? `“${f.name}”` : 'your file'} was cut off half way. Nothing of it was kept; what was there before still is. Add the file again.`,
  'left-class': () =>
    'You are no longer in this class, so nothing was handed in. Your copy stays as it is. If that is a mistake, tell your teacher.',
  'no-such-code': () =>
    'No class has this code just now, so nobody was asked. Compare it with what your teacher wrote; a code ends when they make a new one.',
  'id-taken': () =>
    'This was taken for something that was sent before, so it was not kept. What you wrote is still here: send it once more.',
  'already-handed-in': () =>
    'Your copy is with your teacher already. What you handed in stays as it is; you can hand in again when it comes back.',
  'nothing-to-hand-in': () =>
    'There is no file to hand in, or it was changed in another window. Nothing was handed in. Look at the file and try again.',
  'nothing-marked': () =>
    'None of the chosen copies is marked, so none was handed back. Mark them at the desk first.',
  'marking-begun': (f) =>
    `Marking of this copy has begun, so handing it in can no longer be undone. It stays handed in as it is. It is marked by ${f.whom || 'a teacher of the class'}.`,
  'not-to-take-back': () =>
    'This can’t be taken back. It stays handed in as it is. If something is missing, tell your teacher in Messages.',
  'still-open': () =>
    'Its student can still take this copy back, so nothing can be marked on it yet. What you wrote is kept on this device. Open the copy at the desk to end taking back, then write it again.',
  'taken-back': () =>
    'The student has taken this copy back to go on working on it. What you wrote is kept on this device. It comes again when it is handed in.',
  'not-handed-in': () => 'There is nothing to take back: this copy is with you already.',
  'bank-full': (f) =>
    `A comment bank holds at most ${f.most} phrases, so none of these was kept. Take out what you never use, then try again.`,
  'not-open-yet': () => 'This work is not open yet. Nothing was changed.',
  'file-bomb': (f) =>
    `${called(f)} unpacks to far more than any document of its size. It was not opened and not kept. Save it as PDF and add that.`,
  'picture-too-big': (f) =>
    `${called(f)} has ${f.megapixels} million dots; at most ${f.most} million can be opened. It was not kept. Make it smaller, then add it again.`,
  'picture-broken': (f) =>
    `${called(f)} is a damaged picture. It was not kept. Take or save it again, then add it here.`,
  'too-many-files': (f) =>
    `That is more than ${f.most} files. What was there stays; the new ones were not kept. Put some of them together, or remove some.`,
  'file-not-pages': (f) =>
    `${called(f)} cannot become pages here. It was not kept. Take a PDF, a picture or an office document (docx, odt, rtf, pptx, odp).`,
  'not-a-picture': (f) =>
    `${called(f)} is not a picture. It was not kept; your text is as it was. Choose a JPEG or PNG picture, or add the file to your copy instead.`,
  'group-full': (f) => `A group has at most ${f.most} members. Nobody was moved. Choose another group.`,
  'groups-closed': () =>
    'The time to choose is over. Nothing was changed; your teacher can still move you to another group.',
  'work-there': () =>
    'There is work on this copy already, and nobody else to keep it. Nobody was moved. Let the others join this copy instead.',
  'too-many-pictures': (f) =>
    `A text shows at most ${f.most} pictures. This one was not kept; your text is as it was. Put several into one picture, or add them to your copy as files.`,
  'login-taken': (f) =>
    `The login ${f.login ? `“${f.login}”` : ''} belongs to somebody else. Nobody of this list was added. Choose another login for that line.`,
  'login-in-use': (f) =>
    `The login “${f.login}” belongs to somebody else. Nothing was changed. Choose another login.`,
  'weak-password': (f) =>
    f.why === 'login'
      ? 'Your login is most of this password, so it is easily guessed. Nothing was changed. Choose another one.'
      : f.why === 'common'
        ? 'This password is one of those that everybody tries first. Nothing was changed. Choose another one, a few words in a row for example.'
        : 'A password needs at least 10 letters. Nothing was changed.',
  'same-password': () =>
    'This is the password you have now. Nothing was changed. Choose one that only you know.',
  'not-to-merge': (f) =>
    `These two accounts cannot become one, and nothing was changed: both have work in ${f.titles ?? 'the same assignment'}. Delete or move what is a double there first.`,
  'too-many-asked': (f) =>
    `You have asked for ${f.most} students whom nobody has answered for yet, so this one was not asked for. Wait for an answer, or tell an administrator.`,
  'no-such-teacher': (f) =>
    `There is no teacher with the login “${f.login}”. Nothing was changed. Ask your colleague how they sign in.`,
  'last-teacher': () => 'A class needs a teacher, so the last one stays. Add a colleague first.',
  'changed-elsewhere': () =>
    'This was changed in another window or by a colleague meanwhile. What you wrote is still here, but not saved. Load the newest and make your change there.',
  'grade-above': (f) =>
    `A copy has ${Number(f.grade) / 100} points already, so fewer cannot be the most. Nothing was changed. Lower that grade first.`,
  'draft-incomplete': (f) =>
    f.what === 'title'
      ? 'It has no title yet. Nothing was handed out. Give it one, then hand it out.'
      : f.what === 'students'
        ? 'No student is chosen. Nothing was handed out. Choose somebody, or the whole class.'
        : f.what === 'pages'
          ? `The pages of “${f.name}” are still being made. Nothing was handed out. Wait a moment and try again.`
          : `“${f.name}” has no pages, because they could not be made of its file. Nothing was handed out. Take it off, or make it anew from another file.`,
  'already-set': () => 'This was handed out already, perhaps in another window. Every student has one copy.',
  'wrong-old-password': () => 'The current password is not right. Nothing was changed.',
  'database-away': () => 'Jotmark cannot reach its database just now. Try again in a moment.',
  busy: () =>
    'Jotmark cannot store anything just now; its disk may be full. Nothing was changed. Tell whoever looks after Jotmark at your school.',
  unreadable: (f) =>
    `Something here (${f.what}) was written by a newer Jotmark and cannot be read by this one. It is kept as it is, and nothing was written over it. Tell whoever looks after Jotmark at your school.`,
  'not-your-student': (f) =>
    `The login “${f.login}” belongs to a student whom you do not teach. Nobody of this list was added. Press Preview and ask for this student there: a teacher who has them, or an administrator, agrees.`,
  'not-your-worksheet': () =>
    'This worksheet is a colleague’s: you can use it, and only they can change it. Nothing was changed.',
  'voice-broken': () => 'This recording is not what Jotmark records, and was not kept. Record it again.',
  'voice-not-ready': () =>
    'This recording is still being made ready for older browsers. Try again in a minute.',
  'too-many-rubrics': (f) =>
    `You have ${f.most} rubrics, and no more can be kept. Nothing was made. Change one that you do not need any more.`,
  'no-table': (f) => `${called(f)} ${NO_TABLE[String(f.why)] ?? NO_TABLE.broken}`,
  'nothing-scored': () =>
    'There is nothing of these copies to change: nothing is scored, or it was given to students already. Nothing was changed.',
  'went-back': () =>
    'It has gone back already: its student may have seen it. You can recall it from the pile.',
  'nothing-to-recall': () =>
    'Nothing of these copies can be recalled: none has been handed back, or they were handed in again since. Nothing was changed.',
  stopped: () => 'You ended this before it was done. Nothing was changed, and no file was made.',
  'work-differs': (f) =>
    `“${f.title}” is here already, and can earn ${f.most}. Its grades were not taken: give one of the two another title. What was entered before it stays.`,
  'still-in-class': () =>
    'This student is in the class. Nothing was erased: remove them from the class first.',
  'other-document': (f) =>
    `“${f.name}” holds marks for another copy. Nothing was changed: open that copy and bring them in there.`,
  'not-marks': (f) =>
    `“${f.name}” holds no marks that Jotmark can read: a PDF, an XFDF or Web Annotations (JSON-LD) do. Nothing was changed.`,
  'disk-full': () =>
    'There is no room left on the server’s disk, so the file could not be made. Nothing was lost: tell whoever looks after Jotmark, and try again then.',
  'nothing-to-take-out': () => 'Nothing came in yet, so there is nothing to save.',
  'too-many-answers': (f) =>
    `There are ${f.most} answers to this remark, and no more fit. What you wrote is still here: say it in a new remark or in person.`,
  'not-your-message': () => 'This message is somebody else’s. Nothing was changed.',
  unexpected: () =>
    'Something went wrong inside Jotmark. Try again; if it stays, tell whoever looks after Jotmark at your school.',
};

const NO_TABLE: Readonly<Record<string, string>> = {
  password:
    'is locked with a password. Nothing was read. Open it where it was made, save it without the password, then choose it again.',
  'too-big':
    'is far larger than a rubric (at most 400 lines and columns). Nothing was read. Copy the table alone into a file of its own.',
  none: 'holds no table. Nothing was read. Choose the file with the table, or copy the table and paste it.',
  broken:
    'cannot be read: it is damaged or cut off. Nothing was read. Save it again and choose it once more.',
  old: 'is in an old form. Nothing was read. Save it as xlsx, ods or csv, then choose it again.',
  kind: 'is no spreadsheet and no text with a table. Nothing was read. Take a csv, xlsx, ods, docx or odt, or paste the table.',
};

export function sentenceOf(error: unknown): string {
  return error instanceof CallFailed ? SENTENCES[error.code](error.facts) : SENTENCES.unexpected({});
}

import { type Notice, newsSentence, type Role } from '@jotmark/core';
import type { Settings } from '../settings.ts';

/** A date as a letter says it, by the school's clock. */
export const dateWords = (at: number, timeZone: string): string =>
  new Intl.DateTimeFormat('en-GB', {
    timeZone,
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    hour: '2-digit',
    minute: '2-digit',
  }).format(at);

/** Where a notice leads. */
export function addressOfNotice(n: Notice, role: Role): string {
  const mark = n.mark ? `?mark=${n.mark}` : '';
  if (['asked', 'asked-answered', 'join-asked'].includes(n.kind)) return '/classes';
  if (n.log) return role === 'student' ? '/feedback' : `/classes/${n.log.classId}/log/${n.log.personId}`;
  if (role === 'student') return n.copyId ? `/work/${n.copyId}${mark}` : '/';
  if (n.kind === 'set-time' || n.kind === 'forgotten') return `/piles/${n.assignmentId}`;
  if (n.kind === 'message') return `/copies/${n.copyId}/words`;
  return `/desk/${n.copyId}${mark}`;
}

export const sentenceOf = (n: Notice, { school }: Settings): string =>
  newsSentence(n, n.due === null ? '' : dateWords(n.due, school.timeZone));

/** A letter about one thing, or about a day's. Never a grade: nothing that it is made of holds one. */
export function compose(
  notices: readonly Notice[],
  reader: { readonly given: string; readonly role: Role },
  settings: Settings,
): { readonly subject: string; readonly body: string } {
  const lines = notices.map((n) => {
    const said = n.words ? `\n“${n.words}”` : '';
    return `${sentenceOf(n, settings)}${said}\n${settings.publicUrl}${addressOfNotice(n, reader.role)}`;
  });
  return {
    subject:
      notices.length === 1 ? sentenceOf(notices[0]!, settings) : `${notices.length} things new in Jotmark`,
    body: `Dear ${reader.given},\n\n${lines.join('\n\n')}\n\nYou can choose what you get mail about:\n${settings.publicUrl}/news\n`,
  };
}

import type { NewsKind, Notice } from './notice.ts';

/** What a notice says in one sentence. Never a grade: whoever looks over a shoulder, or reads the mail, learns none. `due` is its date in words. */
export function newsSentence(
  n: Pick<Notice, 'kind' | 'title' | 'who' | 'count' | 'mark'>,
  due: string,
): string {
  const work = `“${n.title}”`;
  switch (n.kind) {
    case 'handed-in':
      return `${n.who} handed in ${work}.`;
    case 'in-again':
      return `${n.who} handed in ${work} again.`;
    case 'answered':
      return `${n.who} answered ${n.mark ? 'a note on' : 'your question about'} ${work}.`;
    case 'message':
      return `${n.who} wrote to you about ${work}.`;
    case 'set-time':
      return n.count === 0
        ? `Nothing of ${work} went back at the time you set: no copy was marked, or all had gone back already.`
        : `${n.count === 1 ? '1 copy' : `${n.count} copies`} of ${work} went back at the time you set.`;
    case 'forgotten':
      return `${n.count === 1 ? '1 copy' : `${n.count} copies`} of ${work} ${n.count === 1 ? 'is' : 'are'} marked and not handed back.`;
    case 'handed-back':
      return `${work} is back.`;
    case 'unfinished':
      return `${n.who} has written on ${work} and is not finished yet.`;
    case 'midway':
      return `You can see where you stand with ${work}.`;
    case 'recalled':
      return `${n.who} has recalled ${work} to look at it again.`;
    case 'set':
      return `New work: ${work}${due && `, due ${due}`}.`;
    case 'changed':
      return `${work} was changed.`;
    case 'new-date':
      return due ? `${work} is now due ${due}.` : `${work} has no due date any more.`;
    case 'due-tomorrow':
      return `${work} is due ${due}.`;
    case 'handed-in-for':
      return `${n.who} handed in ${work} for you.`;
    case 'remark':
      return `${n.who} wrote a remark to you.`;
    case 'remark-answered':
      return `${n.who} answered a remark of yours.`;
    case 'asked':
      return `${n.who} asks to take a student of yours into their class.`;
    case 'asked-answered':
      return n.count
        ? 'The student whom you asked for is in your class now.'
        : 'The student whom you asked for was not let into your class.';
    case 'join-asked':
      return `${n.who} asks to be let into your class.`;
    case 'join-answered':
      return n.count
        ? 'You are in the class now that you asked to join.'
        : 'You were not let into the class that you asked to join.';
  }
}

/** What each kind is called where one chooses. */
export const NEWS_NAMES: Readonly<Record<NewsKind, string>> = {
  'handed-in': 'A student hands in',
  'in-again': 'A student hands in again',
  answered: 'A student answers a note or a question',
  message: 'New messages',
  'set-time': 'Copies went back at a time I set',
  forgotten: 'Copies are marked and not handed back',
  'handed-back': 'Work is handed back',
  unfinished: 'Words come before the grade',
  midway: 'Where I stand, half way',
  recalled: 'Work is recalled, to be looked at again',
  set: 'New work',
  changed: 'Instructions change',
  'new-date': 'A due date changes',
  'due-tomorrow': 'Something is due tomorrow',
  'handed-in-for': 'A teacher hands in something for me',
  remark: 'A teacher writes a remark to me',
  'remark-answered': 'A student answers a remark',
  asked: 'Somebody asks for a student of mine',
  'asked-answered': 'What I asked for is answered',
  'join-asked': 'A student asks to be let into a class',
  'join-answered': 'Whether I am let into a class',
};

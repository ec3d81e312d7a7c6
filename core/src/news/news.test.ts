import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { AssignmentId, CopyId } from '../ids/id.ts';
import { choiceFor, newsOf } from './choices.ts';
import { groupNews } from './group.ts';
import { NewsKind, type Notice } from './notice.ts';
import { NEWS_NAMES, newsSentence } from './words.ts';

const notice = (id: number, over: Partial<Notice> = {}): Notice => ({
  id,
  kind: 'handed-in',
  at: id,
  read: false,
  assignmentId: testId<AssignmentId>(1),
  copyId: testId<CopyId>(id),
  log: null,
  mark: null,
  title: 'Maps',
  className: '7K',
  who: `S${id}`,
  words: '',
  due: null,
  count: 1,
  ...over,
});

describe('news', () => {
  test('each kind has a name and a sentence, which ends like one and says what it is about', () => {
    for (const kind of NewsKind.options) {
      expect(NEWS_NAMES[kind].length).toBeGreaterThan(5);
      const said = newsSentence({ kind, title: 'Maps', who: 'Ada', count: 2, mark: null }, 'Mon 18:00');
      // A remark is about no work, nor is who joins a class.
      if (!/^(remark|asked|join)/.test(kind)) expect(said).toContain('“Maps”');
      expect(said).toMatch(/^[A-Z“0-9].*\.$/);
    }
    expect(newsSentence({ kind: 'new-date', title: 'Maps', who: '', count: 1, mark: null }, '')).toBe(
      '“Maps” has no due date any more.',
    );
    expect(newsSentence({ kind: 'set-time', title: 'Maps', who: '', count: 0, mark: null }, '')).toContain(
      'no copy was marked',
    );
  });

  test('long runs of hand-ins are one, whatever else came stands alone', () => {
    const all = [
      notice(9, { kind: 'message' }),
      ...[8, 7, 6, 5].map((n) => notice(n)),
      notice(4, { assignmentId: testId<AssignmentId>(2) }),
      notice(3),
      notice(2),
    ];
    expect(groupNews(all).map((g) => g.all.length)).toEqual([1, 4, 1, 1, 1]);
    expect(groupNews(all).flatMap((g) => g.all)).toEqual(all);
  });

  test('what one waits for is written at once, the rest once a day, unless one says otherwise', () => {
    expect(choiceFor({}, 'handed-back')).toEqual({ news: true, mail: 'each' });
    expect(choiceFor({}, 'handed-in')).toEqual({ news: true, mail: 'daily' });
    expect(choiceFor({ 'handed-in': { news: false, mail: 'none' } }, 'handed-in')).toEqual({
      news: false,
      mail: 'none',
    });
    expect(newsOf('student')).not.toContain('handed-in');
    expect(newsOf('teacher')).not.toContain('handed-back');
  });
});

import type { HandBackShape, Since } from '@jotmark/core';
import { When } from '../frame/When.tsx';
import { plural } from '../time/words.ts';
import { VoiceHere } from '../voice/VoiceHere.tsx';
import { WordsShow } from '../words/WordsShow.tsx';

/** What is read first: the closing words, what was said about the whole copy, and what is another than the last time. */
export function BackHead({ handBack }: { handBack: HandBackShape }) {
  const { snapshot } = handBack;
  return (
    <>
      {snapshot.closing && (
        <div className="font-hand text-[21px] leading-[30px] break-words text-garnet">
          <WordsShow words={snapshot.closing} />
        </div>
      )}
      {snapshot.voice && (
        <div className="mt-3">
          <VoiceHere recording={snapshot.voice} label="Recording about your whole copy" large />
        </div>
      )}
      <p className="mt-2 text-sm text-soft">
        {snapshot.markedBy}, <When at={handBack.handedBackAt} />
      </p>
      {snapshot.unfinished && (
        <p className="mt-3 rounded-lg bg-action-wash p-3">
          Your teacher is not finished yet: {snapshot.most === null ? 'more' : 'the grade'} is still to come.
          You can read and answer already.
        </p>
      )}
      {snapshot.since && (
        <p className="mt-3 rounded-lg bg-action-wash p-3">
          <strong>Changed since it first came back:</strong> {sinceWords(snapshot.since)}.
        </p>
      )}
      {snapshot.became && (
        <section className="mt-4" aria-label="What became of your notes">
          <h2 className="font-bold">What became of your notes</h2>
          <ul className="mt-1 space-y-1">
            {snapshot.became.map((b) => (
              <li key={b.mark} className="flex items-baseline gap-2">
                <span
                  className={`min-w-0 flex-1 break-words ${b.verdict === 'dealt-with' ? 'text-soft' : ''}`}
                >
                  {b.words}
                </span>
                <span
                  className={`shrink-0 rounded px-1.5 text-xs font-semibold ${b.verdict === 'dealt-with' ? 'bg-action text-white' : 'bg-margin text-caution'}`}
                >
                  {b.verdict === 'dealt-with' ? 'dealt with' : 'still to do'}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** "2 notes are new, 1 is another; the grade is another". Never the grade itself: it has its place. */
function sinceWords(since: Since): string {
  const notes = [
    since.came.length && plural(since.came.length, 'mark is new', 'marks are new'),
    since.changed.length && plural(since.changed.length, 'mark was changed', 'marks were changed'),
    since.went && plural(since.went, 'mark is gone', 'marks are gone'),
    since.closing && 'the closing words are new',
    since.grade
      ? since.grade.from === null
        ? 'the grade is there now'
        : 'the grade was changed'
      : since.scores && 'points or levels were changed',
  ].filter(Boolean);
  return notes.join(', ') || 'small things';
}

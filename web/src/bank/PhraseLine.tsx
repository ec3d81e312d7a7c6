import { useDraggable } from '@dnd-kit/core';
import { formatSigned, INK_NAMES, type Phrase } from '@jotmark/core';
import { useHere } from '../frame/session.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { HandInk } from './HandInk.tsx';

/** One phrase of the bank as it is looked over: what it says, what it is like, how it has been used. Opened to be changed; dragged onto a group. */
export function PhraseLine({ phrase, onOpen }: { phrase: Phrase; onOpen(): void }) {
  const { clock } = useHere();
  const drag = useDraggable({ id: phrase.id, data: { of: 'phrase' } });
  const about = [
    phrase.focus,
    phrase.points !== null && formatSigned(phrase.points),
    phrase.colour && INK_NAMES[phrase.colour],
    phrase.usedAt === null ? 'never used' : `last used ${clock.moment(phrase.usedAt, Date.now())}`,
  ].filter(Boolean);
  return (
    <div
      ref={drag.setNodeRef}
      {...drag.listeners}
      style={
        drag.transform ? { transform: `translate(${drag.transform.x}px, ${drag.transform.y}px)` } : undefined
      }
      className={`flex items-baseline gap-3 rounded px-2 py-2 hover:bg-action-wash ${drag.isDragging ? 'relative z-20 bg-raised shadow-lg' : ''}`}
    >
      <button
        type="button"
        aria-label={`Change “${phrase.words}”`}
        className="min-w-0 flex-1 text-left"
        onClick={onOpen}
      >
        <span className="block break-words">
          {phrase.ink && <HandInk ink={phrase.ink} />}
          <WordsShow words={phrase.words} />
        </span>
        <span className="text-sm text-soft">{about.join(' · ')}</span>
      </button>
      {phrase.key && <span className="key shrink-0">Alt {phrase.key}</span>}
      <span className="w-10 shrink-0 text-right font-semibold tabular">{phrase.uses} ×</span>
    </div>
  );
}

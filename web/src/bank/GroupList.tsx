import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { Phrase } from '@jotmark/core';

/** What is no group of a teacher's: all phrases, and those that say nearly the same. */
export const ALL = '\u0000all';
export const DOUBLES = '\u0000doubles';

interface Props {
  readonly groups: readonly string[];
  readonly phrases: readonly Phrase[];
  /** How many groups of phrases say nearly the same. */
  readonly doubles: number;
  readonly on: string;
  onTake(group: string): void;
  onMove(from: number, to: number): void;
}

/** The groups of a bank, put into another order by dragging or with Alt and an arrow; a phrase dropped on one lies in it. */
export function GroupList({ groups, phrases, doubles, on, onTake, onMove }: Props) {
  const count = (group: string) => phrases.filter((p) => p.group === group).length;
  const loose = count('');
  return (
    <nav aria-label="Groups" className="w-56 shrink-0">
      <Line text="All phrases" count={phrases.length} on={on === ALL} onTake={() => onTake(ALL)} />
      {groups.map((name, i) => (
        <GroupLine
          key={name}
          name={name}
          count={count(name)}
          on={on === name}
          onTake={() => onTake(name)}
          onMove={(by) => onMove(i, i + by)}
        />
      ))}
      {loose > 0 && <LooseLine count={loose} on={on === ''} onTake={() => onTake('')} />}
      {doubles > 0 && (
        <div className="mt-3 border-t border-line pt-2">
          <Line text="Nearly the same" count={doubles} on={on === DOUBLES} onTake={() => onTake(DOUBLES)} />
        </div>
      )}
      <p className="mt-3 px-3 text-xs text-soft">
        Drag a group to another place, or a phrase onto a group. Alt and ↑ or ↓ move a group.
      </p>
    </nav>
  );
}

interface LineProps {
  readonly text: string;
  readonly count: number;
  readonly on: boolean;
  readonly over?: boolean;
  onTake(): void;
}

function Line({
  text,
  count,
  on,
  over = false,
  onTake,
  ...rest
}: LineProps & React.ComponentProps<'button'>) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`flex w-full items-baseline gap-2 rounded-lg border-2 px-3 py-1.5 text-left ${over ? 'border-action bg-action-wash' : on ? 'border-action bg-paper' : 'border-transparent hover:bg-raised'}`}
      {...rest}
      onClick={onTake}
    >
      <span className="min-w-0 flex-1 break-words">{text}</span>
      <span className="text-soft tabular">{count}</span>
    </button>
  );
}

function LooseLine(p: Omit<LineProps, 'text'>) {
  const drop = useDroppable({ id: 'group:', data: { name: '' } });
  return (
    <div ref={drop.setNodeRef}>
      <Line {...p} text="In no group" over={drop.isOver} />
    </div>
  );
}

function GroupLine({
  name,
  onMove,
  ...rest
}: Omit<LineProps, 'text'> & { name: string; onMove(by: number): void }) {
  const drop = useDroppable({ id: `group:${name}`, data: { name } });
  const drag = useDraggable({ id: `moved:${name}`, data: { of: 'group', name } });
  return (
    <div
      ref={drop.setNodeRef}
      style={drag.transform ? { transform: `translateY(${drag.transform.y}px)` } : undefined}
      className={drag.isDragging ? 'relative z-10 opacity-80' : ''}
    >
      <Line
        ref={drag.setNodeRef}
        {...drag.listeners}
        {...rest}
        text={name}
        over={drop.isOver && !drag.isDragging}
        onKeyDown={(e) => {
          const by = e.key === 'ArrowUp' ? -1 : e.key === 'ArrowDown' ? 1 : 0;
          if (!e.altKey || by === 0) return;
          e.preventDefault();
          onMove(by);
        }}
      />
    </div>
  );
}

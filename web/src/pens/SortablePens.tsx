import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { type Pen, penTitle } from '@jotmark/core';
import { announce, dragWords, standsWords } from '../frame/drag-words.ts';
import { moved, onMoveKeys } from './move-pens.ts';
import { type ButtonProps, type PenAtKey, PenButton } from './PenTray.tsx';

export interface PensProps {
  readonly pens: readonly PenAtKey[];
  readonly taken: string;
  onTake(key: string): void;
  /** The pens in a new order. */
  onOrder(pens: readonly Pen[]): void;
  onChange(key: string): void;
}

/** Pens that are put elsewhere by dragging, or with Alt and an arrow. */
export function SortablePens({ pens, taken, onTake, onOrder, onChange }: PensProps) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }));
  const move = (from: number, to: number) => {
    const next = moved(
      pens.map((p) => p.pen),
      from,
      to,
    );
    if (next) onOrder(next);
  };
  return (
    <DndContext
      accessibility={{ announcements: dragWords(new Map(pens.map((p) => [p.key, penTitle(p.pen)]))) }}
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        const at = (id: unknown) => pens.findIndex((p) => p.key === id);
        if (over) move(at(active.id), at(over.id));
      }}
    >
      <SortableContext items={pens.map((p) => p.key)} strategy={horizontalListSortingStrategy}>
        {pens.map((at, i) => (
          <SortablePen
            key={at.key}
            at={at}
            taken={at.key === taken}
            onTake={() => onTake(at.key)}
            onChange={() => onChange(at.key)}
            onMove={(by) => {
              move(i, i + by);
              if (pens[i + by]) announce(standsWords(penTitle(at.pen), i + by, pens.length));
            }}
          />
        ))}
      </SortableContext>
    </DndContext>
  );
}

function SortablePen({
  at,
  onMove,
  ...rest
}: Omit<ButtonProps, 'sorting'> & {
  onMove(by: number): void;
}) {
  const { listeners, setNodeRef, transform, transition } = useSortable({ id: at.key });
  return (
    <PenButton
      at={at}
      {...rest}
      sorting={{
        ref: setNodeRef,
        ...listeners,
        style: { transform: CSS.Translate.toString(transform), transition: transition ?? undefined },
        onKeyDown: onMoveKeys(onMove),
      }}
    />
  );
}

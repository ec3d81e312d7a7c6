import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { arrayMove, horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { formatPoints, type Pen } from '@jotmark/core';
import type { ComponentProps, ReactNode } from 'react';
import { MarkItMakes } from '../look/pen-mark.tsx';

export interface PenAtKey {
  readonly key: string;
  readonly pen: Pen;
}

interface Props {
  readonly pens: readonly PenAtKey[];
  readonly taken: string;
  onTake(key: string): void;
  /** The pens in a new order; without it they stay where they are. */
  onOrder?(pens: readonly Pen[]): void;
  onChange?(key: string): void;
  /** What lies beside the pens. */
  readonly children?: ReactNode;
}

/** The pens in a row near the writing hand, each showing the mark it makes. Its key takes it; it is put elsewhere by dragging, or with Alt and an arrow. */
export function PenTray({ pens, taken, onTake, onOrder, onChange, children }: Props) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }));
  const move = (from: number, to: number) => {
    if (onOrder && to >= 0 && to < pens.length && from !== to)
      onOrder(
        arrayMove(
          pens.map((p) => p.pen),
          from,
          to,
        ),
      );
  };
  return (
    <div
      role="toolbar"
      aria-label="Pen tray"
      className="flex max-w-full flex-wrap justify-center rounded-xl border border-line bg-tray p-1.5 shadow-lg"
      data-own-pointer
    >
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          const at = (id: unknown) => pens.findIndex((p) => p.key === id);
          if (over) move(at(active.id), at(over.id));
        }}
      >
        <SortableContext items={pens.map((p) => p.key)} strategy={horizontalListSortingStrategy}>
          {pens.map((at, i) => {
            const props = {
              at,
              taken: at.key === taken,
              onTake: () => onTake(at.key),
              ...(onChange ? { onChange: () => onChange(at.key) } : {}),
            };
            return onOrder ? (
              <SortablePen key={at.key} {...props} onMove={(by) => move(i, i + by)} />
            ) : (
              <PenButton key={at.key} {...props} />
            );
          })}
        </SortableContext>
      </DndContext>
      {children}
    </div>
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
        onKeyDown(e) {
          const by = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0;
          if (!e.altKey || by === 0) return;
          e.preventDefault();
          onMove(by);
          // The buttons stay, their pens move: the hand goes along with its pen.
          const buttons = [...(e.currentTarget.parentElement?.querySelectorAll('button') ?? [])];
          buttons[buttons.indexOf(e.currentTarget) + by]?.focus();
        },
      }}
    />
  );
}

interface ButtonProps {
  readonly at: PenAtKey;
  readonly taken: boolean;
  readonly sorting?: ComponentProps<'button'>;
  onTake(): void;
  onChange?(): void;
}

/** One pen to take. */
export function PenButton({ at: { key, pen }, taken, sorting = {}, onTake, onChange }: ButtonProps) {
  return (
    <button
      {...sorting}
      type="button"
      aria-pressed={taken}
      aria-keyshortcuts={key}
      title={titleOf(pen)}
      className={`relative flex w-14 flex-col @max-[54rem]:w-12 items-center gap-0.5 rounded-lg border-2 pt-2 pb-1 ${taken ? 'border-action bg-raised' : 'border-transparent hover:bg-raised'}`}
      onClick={onTake}
      onDoubleClick={onChange}
    >
      <span className="absolute top-0 left-1 text-[10px] leading-3 text-soft" aria-hidden="true">
        {key}
      </span>
      <span className="grid h-6 place-items-center">
        <MarkItMakes pen={pen} />
      </span>
      <span className="max-w-full truncate text-[12px] leading-tight whitespace-nowrap">
        {pen.name}
        {pen.tool === 'stamp' && pen.points !== null && ` ${formatPoints(pen.points)}`}
      </span>
    </button>
  );
}

const titleOf = (pen: Pen): string | undefined =>
  'focus' in pen && pen.focus && pen.focus !== pen.name ? `${pen.name}, ${pen.focus}` : undefined;

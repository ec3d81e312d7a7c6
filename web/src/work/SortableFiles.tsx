import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { DocumentState } from '@jotmark/core';
import { GripVertical } from 'lucide-react';
import { dragWords } from '../frame/drag-words.ts';
import { FileLine, type FileListProps } from './FileLine.tsx';

/** Several files, put in another order by hand or by keys. A part of its own: most copies have none or one. */
export default function SortableFiles({ files, onOrder, onRemove }: FileListProps) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return (
    <DndContext
      accessibility={{
        announcements: dragWords(new Map(files.map((f) => [f.id, f.name]))),
        screenReaderInstructions: {
          draggable:
            'Press space to pick the file up, arrows to move it, space to put it down, Escape to leave it where it was.',
        },
      }}
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        const from = files.findIndex((f) => f.id === active.id);
        const to = files.findIndex((f) => f.id === over?.id);
        if (from >= 0 && to >= 0 && from !== to) onOrder(arrayMove([...files], from, to));
      }}
    >
      <SortableContext items={files.map((f) => f.id)} strategy={verticalListSortingStrategy}>
        <ol className="mt-2 space-y-1.5">
          {files.map((file) => (
            <SortableLine key={file.id} file={file} onRemove={() => onRemove(file)} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function SortableLine({ file, onRemove }: { file: DocumentState; onRemove(): void }) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: file.id });
  return (
    <FileLine
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition: transition ?? undefined }}
      file={file}
      onRemove={onRemove}
      handle={
        <button
          type="button"
          className="grid h-8 w-6 touch-none place-items-center text-soft"
          aria-label={`Move ${file.name}`}
          {...attributes}
          {...listeners}
        >
          <GripVertical size={16} aria-hidden="true" />
        </button>
      }
    />
  );
}

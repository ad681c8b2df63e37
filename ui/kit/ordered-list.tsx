'use client';

import {
  type Active,
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  type Over,
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
import { GripVertical } from 'lucide-react';
import { type ReactNode, useId, useState } from 'react';

/**
 * A list whose items are dragged into another order, by pointer or by keyboard. `onMove` gets where an item was and where it
 * goes; until it is done, the list shows the new order already. `children` makes an {@link OrderedItem} of each item.
 */
export function OrderedList<Item extends { readonly id: string }>(props: {
  readonly items: readonly Item[];
  readonly onMove: (from: number, to: number) => Promise<void> | void;
  readonly className?: string;
  readonly children: (item: Item, index: number) => ReactNode;
}) {
  const [moved, setMoved] = useState<readonly Item[] | undefined>();
  const name = useId();
  const sensors = useSensors(
    useSensor(PointerSensor),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const shown = moved ?? props.items;
  const drop = ({ active, over }: DragEndEvent): void => {
    const from = props.items.findIndex(({ id }) => id === active.id);
    const to = props.items.findIndex(({ id }) => id === over?.id);
    if (from < 0 || to < 0 || from === to) return;
    setMoved(arrayMove([...props.items], from, to));
    // Whoever stores it says whether it could be stored.
    Promise.resolve(props.onMove(from, to))
      .catch(() => {})
      .finally(() => setMoved(undefined));
  };
  return (
    <DndContext
      id={name}
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{ announcements, screenReaderInstructions: { draggable: howTo } }}
      onDragEnd={drop}
    >
      <SortableContext items={shown.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <ol className={props.className}>{shown.map(props.children)}</ol>
      </SortableContext>
    </DndContext>
  );
}

const howTo = 'Space picks it up and puts it down, the arrow keys move it, Escape puts it back.';

/** What is said, while an item is dragged, to those who do not see it. */
const announcements: Announcements = {
  onDragStart: ({ active }) => `${titleOf(active)} is picked up.`,
  onDragOver: ({ active, over }) => {
    if (!over) return undefined;
    return over.id === active.id
      ? `${titleOf(active)} is picked up, at its own place.`
      : `${titleOf(active)} is at the place of ${titleOf(over)}.`;
  },
  onDragEnd: ({ active, over }) =>
    over && over.id !== active.id
      ? `${titleOf(active)} takes the place of ${titleOf(over)}.`
      : `${titleOf(active)} stays where it was.`,
  onDragCancel: ({ active }) => `${titleOf(active)} is back where it was.`,
};

function titleOf({ data }: Active | Over): string {
  return String(data.current?.title ?? '');
}

/** An item of an {@link OrderedList}; `children` gets the grip by which it is dragged and puts it where it belongs. */
export function OrderedItem(props: {
  readonly id: string;
  /** What is dragged, for those who do not see it. */
  readonly title: string;
  readonly className?: string;
  readonly children: (grip: ReactNode) => ReactNode;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: props.id,
    data: { title: props.title },
  });
  const grip = (
    <button
      type="button"
      ref={setActivatorNodeRef}
      {...attributes}
      {...listeners}
      aria-label={`Drag ${props.title} to another place`}
      className="size-6 shrink-0 cursor-grab touch-none text-second hover:text-mark"
    >
      <GripVertical size={15} className="mx-auto" aria-hidden="true" />
    </button>
  );
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`${props.className ?? ''} ${isDragging ? 'relative z-10 bg-sheet' : ''}`}
    >
      {props.children(grip)}
    </li>
  );
}

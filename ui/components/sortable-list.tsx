import { MaterialCommunityIcons } from '@expo/vector-icons';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface Props<T> {
  items: readonly T[];
  idOf: (item: T) => string;
  nameOf: (item: T) => string;
  onOrder: (ids: string[]) => void;
  render: (item: T) => ReactNode;
  testID?: string;
}

/** A list whose rows are dragged by their grip into another order; with the keyboard: space, arrows, space. */
export function SortableList<T>({ items, idOf, nameOf, onOrder, render, testID }: Props<T>) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const given = items.map(idOf);
  // What was dragged shows at once, until the list itself comes back in another order than it had then.
  const [wished, setWished] = useState<{ ids: string[]; over: string } | null>(null);
  const ids = wished?.over === given.join() ? wished.ids : given;
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    for (let node = box.current?.parentElement; node; node = node.parentElement) letScroll(node);
  }, []);
  const end = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const next = arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id)));
    setWished({ ids: next, over: given.join() });
    onOrder(next);
  };
  return (
    <div ref={box} data-testid={testID}>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={end}>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {ids.map((id) => {
            const item = items.find((i) => idOf(i) === id)!;
            return (
              <SortableRow key={id} id={id} name={nameOf(item)}>
                {render(item)}
              </SortableRow>
            );
          })}
        </SortableContext>
      </DndContext>
    </div>
  );
}

/**
 * React Native's scroll view puts a scrollTo of its own, with other words, over the browser's. Moving rows by keys needs
 * the browser's, so that both are understood from here on.
 */
function letScroll(node: HTMLElement): void {
  if (!Object.prototype.hasOwnProperty.call(node, 'scrollTo')) return;
  const own = node.scrollTo as (options: object) => void;
  node.scrollTo = ((options: object) =>
    'top' in options || 'left' in options
      ? (Element.prototype.scrollTo as (o: object) => void).call(node, options)
      : own.call(node, options)) as typeof node.scrollTo;
}

function SortableRow({ id, name, children }: { id: string; name: string; children: ReactNode }) {
  const p = usePalette();
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  return (
    <div
      ref={setNodeRef}
      style={{
        transform: CSS.Translate.toString(transform),
        transition,
        display: 'flex',
        alignItems: 'center',
        position: 'relative',
        zIndex: isDragging ? 2 : undefined,
        background: isDragging ? p.card : undefined,
      }}
    >
      <div
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
        data-testid={`grip-${name}`}
        style={{
          width: 36,
          minHeight: TOUCH,
          display: 'flex',
          alignItems: 'center',
          justifyContent: 'center',
          cursor: 'grab',
          touchAction: 'none',
          flexShrink: 0,
        }}
      >
        <MaterialCommunityIcons name="drag-vertical" size={24} color={p.soft} />
      </div>
      <div style={{ flex: 1, minWidth: 0 }}>{children}</div>
    </div>
  );
}

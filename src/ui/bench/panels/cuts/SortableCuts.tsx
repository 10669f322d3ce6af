import type { ReactNode } from 'react';
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useBench, useJob } from '../../../state/benchStore';
import { moveItem } from './describeCut';

/** A drag begins after so many pixels: less is a click. */
const DRAG_PX = 4;

/** The list of cuts, whose cards are dragged into another order, or moved by the keys. */
export function SortableCuts({ children }: { children: ReactNode }) {
  const bench = useBench();
  const { cuts } = useJob();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: DRAG_PX } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const move = ({ active, over }: DragEndEvent): void => {
    if (!over || over.id === active.id) return;
    bench.edit(bench.nameStep('order'), (j) => {
      const at = (id: unknown): number => j.cuts.findIndex((c) => c.id === id);
      return { ...j, cuts: moveItem(j.cuts, at(active.id), at(over.id) - at(active.id)) };
    });
  };
  return (
    <DndContext id="cuts" sensors={sensors} collisionDetection={closestCenter} onDragEnd={move}>
      <SortableContext items={cuts.map((c) => c.id)} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** What makes a card one of the list: where it is drawn, and what it is taken by. */
export function useSortableCard(id: string) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  return {
    isDragging,
    place: { transform: CSS.Translate.toString(transform), transition },
    setNodeRef,
    setActivatorNodeRef,
    handle: { ...attributes, ...listeners },
  };
}

import HolderOutlined from "@ant-design/icons/es/icons/HolderOutlined";
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import type { ReactNode } from "react";

/** A row that can be drawn to another place by its handle, with a mouse or a finger; by keyboard its own buttons move it. */
function SortableRow({ id, children }: { id: string; children: ReactNode }) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  return (
    <li
      ref={setNodeRef}
      className={isDragging ? "dragged" : undefined}
      style={{ transform: CSS.Transform.toString(transform), transition }}
    >
      <span className="handle" data-drawn="" aria-hidden="true" {...listeners}>
        <HolderOutlined />
      </span>
      {children}
    </li>
  );
}

/** The steps of a method in their order, which can be changed by drawing. */
export default function SortableSteps({
  ids,
  onMove,
  row,
}: {
  ids: string[];
  onMove(from: number, to: number): void;
  row(index: number): ReactNode;
}) {
  // A few pixels first: a tap on the handle draws nothing.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && over.id !== active.id)
          onMove(ids.indexOf(String(active.id)), ids.indexOf(String(over.id)));
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol className="steps">
          {ids.map((id, i) => (
            <SortableRow key={id} id={id}>
              {row(i)}
            </SortableRow>
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}
